"""Labels that a reader can read, numbers handed out once, and photographs without their place."""

import io
import zipfile
from pathlib import Path
from uuid import uuid4

import pypdfium2
import pytest
import zxingcpp
from PIL import Image

from keen_tracer.core.roles import at_the_machine
from keen_tracer.exchange.labels import Label, label_sheet
from keen_tracer.exchange.pictures import LONGEST, BadPicture, reencoded
from keen_tracer.storage.db import single
from keen_tracer.usecases.bottles import labels
from keen_tracer.usecases.errors import CannotRecord, NotThere
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.recording.log_rows import Bottle, register_bottle
from tests.day import TODAY
from tests.helpers import write_csv


@pytest.fixture
def fleet_url(url: str, tmp_path: Path) -> str:
    path = write_csv(
        tmp_path, "engines.csv", "engine,name,class\nE-1,Loader <one>,heavy_diesel\nE-2,,petrol\n"
    )
    assert import_files(url, [(path.name, path)], at_the_machine("t")).written
    return url


def read(pdf: bytes) -> tuple[list[set[str]], str]:
    """The codes on each page as a reader sees them, and the text of the first page."""
    document = pypdfium2.PdfDocument(pdf)
    found = [
        {b.text for b in zxingcpp.read_barcodes(page.render(scale=3).to_pil())} for page in document
    ]
    return found, document[0].get_textpage().get_text_range()


def test_every_label_is_read_by_a_decoder_of_somebody_else() -> None:
    pages, text = read(
        label_sheet([Label(str(1700 + n), "E-1" if n == 0 else "") for n in range(30)])
    )
    assert pages == [{str(1700 + n) for n in range(24)}, {str(1724 + n) for n in range(6)}]
    assert "1700" in text
    assert "E-1" in text


def test_a_name_is_text_and_never_markup() -> None:
    _, text = read(label_sheet([Label("A-1", "<img src=http://x/y> & co")]))
    assert "<img src" in text


def test_numbers_are_handed_out_once_and_offered_where_they_were_printed_for(
    fleet_url: str, tmp_path: Path
) -> None:
    with single(fleet_url) as c:
        first = labels.print_run(c, ["E-2", "E-1"], 2, "Jo")
        assert (first["first"], first["last"]) == (1, 4)
        assert labels.print_run(c, [], 1, "Jo")["first"] == 5
        assert (labels.label_for(c, "E-1"), labels.label_for(c, "E-9")) == (2, 3)
        register_bottle(c, Bottle(id=uuid4(), sample="2", engine="E-1", on=TODAY, dial=10.0), "Jo")
        assert labels.label_for(c, "E-1") == 3  # its own is used; a spare one is next
        sheet = labels.sheet(labels.run_labels(c, first["id"]), tmp_path)
        assert sheet is not None
        pages, text = read(sheet)
        assert pages == [{"1", "2", "3", "4"}]
        assert "E-1 Loader <one>" in text
        with pytest.raises(NotThere):
            labels.run_labels(c, 999)


@pytest.mark.parametrize("spare", [0, 501])
def test_no_labels_or_far_too_many_are_refused(fleet_url: str, spare: int) -> None:
    with single(fleet_url) as c, pytest.raises(CannotRecord, match="1 to 500"):
        labels.print_run(c, [], spare, "Jo")


def photo(size=(3000, 2000), place: bool = True) -> bytes:
    picture = Image.new("RGB", size, (90, 60, 20))
    exif = picture.getexif()
    if place:
        exif[0x0112] = 6  # lying on its side
        exif.get_ifd(0x8825)[1] = "N"
        exif[0x010F] = "a camera"
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    return out.getvalue()


def test_a_photograph_is_upright_small_and_says_nothing_of_its_place() -> None:
    kept = reencoded(photo())
    with Image.open(io.BytesIO(kept.content)) as found:
        assert found.format == "JPEG"
        assert found.size == (kept.width, kept.height) == (LONGEST * 2 // 3, LONGEST)
        assert not found.getexif()
    assert b"a camera" not in kept.content


@pytest.mark.parametrize(
    "data", [b"", b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"%PDF-1.7", photo()[:200]]
)
def test_what_is_no_photograph_is_refused(data: bytes) -> None:
    with pytest.raises(BadPicture, match="JPEG"):
        reencoded(data)


def test_a_photograph_that_is_something_else_too_comes_out_as_a_picture_alone() -> None:
    """A JPEG with an archive and a script behind it: what is kept was drawn anew."""
    archive = io.BytesIO()
    with zipfile.ZipFile(archive, "w") as z:
        z.writestr("run.sh", "rm -r everything")
    kept = reencoded(photo() + archive.getvalue() + b"<script>alert(1)</script>")
    assert not zipfile.is_zipfile(io.BytesIO(kept.content))
    assert b"<script>" not in kept.content
    assert b"run.sh" not in kept.content


def test_a_photograph_stays_with_its_bottle_and_is_kept_once(fleet_url: str) -> None:
    with single(fleet_url) as c:
        log, key = uuid4(), uuid4()
        with pytest.raises(CannotRecord, match="send the bottle first"):
            labels.add_photo(c, key, log, labels.photograph(photo()), "", "Jo")
        register_bottle(c, Bottle(id=log, sample="7", engine="E-1", on=TODAY, dial=10.0), "Jo")
        digest = labels.add_photo(c, key, log, labels.photograph(photo()), "cloudy", "Jo")
        labels.add_photo(c, key, log, labels.photograph(photo()), "cloudy", "Jo")
        from keen_tracer.storage.records import row

        engine = row(c, "engine_by_code", code="E-1")["id"]
        assert [(p["sha256"], p["caption"], p["sample"]) for p in labels.photos(c, engine)] == [
            (digest, "cloudy", "7")
        ]
        with pytest.raises(CannotRecord, match="JPEG"):
            labels.add_photo(c, uuid4(), log, labels.photograph(b"no"), "", "Jo")
