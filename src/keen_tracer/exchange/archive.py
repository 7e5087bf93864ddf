"""The files inside what was given: a CSV is itself, a zip is the CSV files in it, a workbook its
sheets that are called as our tables; within limits."""

import csv
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager, suppress
from pathlib import Path
from typing import BinaryIO, cast

from .cells import BadCell
from .csvfile import Problems
from .layouts import read, sheets_of
from .tables import TABLES

UNPACKED = 1_000_000_000  # bytes a zip may unpack to
MEMBERS = 50
PICTURE = 20_000_000  # bytes of one photograph; our choice
RATIO = 200  # to one: tables of ours pack to a tenth; our choice
SLACK = 1_000_000  # bytes, before the ratio means anything
# What the standard library raises for an archive that is damaged, encrypted or packed in a way it
# does not know.
UNREADABLE = (zipfile.BadZipFile, zlib.error, NotImplementedError, RuntimeError, EOFError, OSError)


@contextmanager
def members(
    paths: list[tuple[str, Path]], problems: Problems
) -> Iterator[list[tuple[str, BinaryIO]]]:
    """Open every table that was given, as (name, stream)."""
    with ExitStack() as stack:
        out: list[tuple[str, BinaryIO]] = []
        for name, path in paths:
            if not path.is_file():
                problems.add(name, None, None, "there is no such file", "check the path")
            elif zipfile.is_zipfile(path) and _is_workbook(path):
                out += _sheets(stack, name, path, problems)
            elif zipfile.is_zipfile(path):
                try:
                    out += _unpacked(stack, name, path, problems)
                except UNREADABLE as error:
                    problems.add(
                        name,
                        None,
                        None,
                        f"the archive cannot be unpacked ({error})",
                        "zip the files again, without a password, or give them one by one",
                    )
            else:
                out.append((name, stack.enter_context(path.open("rb"))))
        yield out


def _is_workbook(path: Path) -> bool:
    with suppress(*UNREADABLE), zipfile.ZipFile(path) as archive:
        return "xl/workbook.xml" in archive.namelist()
    return False


def _sheets(
    stack: ExitStack, name: str, path: Path, problems: Problems
) -> list[tuple[str, BinaryIO]]:
    """The sheets of a workbook that are called as our tables, as their files."""
    folder = Path(stack.enter_context(tempfile.TemporaryDirectory(prefix="keen-book-")))
    try:
        found = sheets_of(name, path, folder / "sheets")
    except BadCell as bad:
        problems.add(name, None, None, bad.what, bad.fix)
        return []
    ours = [s for s in found if s.name.lower() in TABLES]
    if not ours:
        problems.add(
            name,
            None,
            None,
            "no sheet of this workbook is called as a table of ours",
            "bring it in as a laboratory's report, or take a blank table to fill in",
        )
    out: list[tuple[str, BinaryIO]] = []
    for sheet in ours:
        for at, words in sheet.hidden_parts:
            problems.add(
                name, at, None, f"the workbook hides {words}", "show it, or delete it, and save"
            )
        whole = folder / f"{sheet.name.lower()}.csv"
        with whole.open("w", newline="", encoding="utf-8") as text:
            csv.writer(text).writerows(read(sheet))
        out.append((f"{sheet.name.lower()}.csv of {name}", stack.enter_context(whole.open("rb"))))
    return out


def _unpacked(
    stack: ExitStack, name: str, path: Path, problems: Problems
) -> list[tuple[str, BinaryIO]]:
    archive = stack.enter_context(zipfile.ZipFile(path))
    tables = [i for i in archive.infolist() if i.filename.lower().endswith(".csv")]
    if not tables:
        problems.add(
            name,
            None,
            None,
            "there is no CSV file in this archive",
            "give a zipped export, or CSV files",
        )
    if len(tables) > MEMBERS or sum(i.file_size for i in tables) > UNPACKED:
        problems.add(
            name, None, None, "the archive unpacks to too much", "give the CSV files one by one"
        )
        return []
    if any(i.file_size > RATIO * i.compress_size + SLACK for i in tables):
        problems.add(
            name,
            None,
            None,
            "the archive is packed tighter than any table",
            "give the CSV files one by one",
        )
        return []
    out: list[tuple[str, BinaryIO]] = []
    for info in tables:
        spooled = stack.enter_context(_spool(archive, info))
        out.append((info.filename.rsplit("/", 1)[-1], spooled))
    return out


def picture_beside(paths: list[tuple[str, Path]], sha256: str) -> bytes | None:
    """The photograph `pictures/<sha256>.jpg` that lies beside the files or in one of the archives;
    None where there is none, or where it is larger than a photograph may be."""
    name = f"pictures/{sha256}.jpg"
    for _, path in paths:
        if not zipfile.is_zipfile(path):
            file = path.parent / name
            if file.is_file() and file.stat().st_size <= PICTURE:
                return file.read_bytes()
            continue
        with suppress(*UNREADABLE, KeyError), zipfile.ZipFile(path) as archive:
            info = archive.getinfo(name)
            if info.file_size <= PICTURE:
                with archive.open(info) as member:
                    return member.read(PICTURE)
    return None


@contextmanager
def _spool(archive: zipfile.ZipFile, info: zipfile.ZipInfo) -> Iterator[BinaryIO]:
    """A member as a file that can be read twice; never more bytes than it promised."""
    with tempfile.TemporaryFile() as out, archive.open(info) as member:
        left = info.file_size
        while left > 0 and (part := member.read(min(left, 1 << 20))):
            out.write(part)
            left -= len(part)
        out.seek(0)
        yield cast(BinaryIO, out)
