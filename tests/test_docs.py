"""What the documents promise exists, and what exists is in the documents."""

import re
import subprocess
from collections.abc import Collection

import pytest

import keen_tracer
from keen_tracer.api.contract import openapi, terms_module
from keen_tracer.core import terms
from keen_tracer.core.record import debris_types, field_checks
from keen_tracer.core.roles import DOOR_WORDS, DOORS, RIGHTS
from keen_tracer.core.terms import ROLES
from keen_tracer.exchange.tables import TABLES
from launcher.__main__ import HELP
from launcher.paths import ROOT, WEB

DOCS = sorted((ROOT / "docs").glob("*.md"))
README_FILE, CONTRIBUTING = ROOT / "README.md", ROOT / "CONTRIBUTING.md"
README = README_FILE.read_text(encoding="utf-8")
SRC = ROOT / "src" / "keen_tracer"
NAMED = r"`([\w.]+/[\w./]+\.(?:py|csv|ts|svelte|toml|sql))\b"
COMMANDS = sorted(set(re.findall(r"^  \./keen (\w+)", HELP, re.M)))


@pytest.mark.parametrize("command", COMMANDS)
def test_every_command_is_in_a_document_and_the_help_runs(command: str) -> None:
    said = README + CONTRIBUTING.read_text(encoding="utf-8")
    assert f"./keen {command}" in said
    printed = subprocess.run(
        [str(ROOT / "keen"), "help"], capture_output=True, text=True, check=True
    ).stdout
    assert f"./keen {command}" in printed


def test_an_unknown_command_is_refused_with_a_hint() -> None:
    done = subprocess.run([str(ROOT / "keen"), "sevre"], capture_output=True, text=True)
    assert done.returncode == 1
    assert "./keen help" in done.stderr


def test_links_and_pictures_of_the_documents_exist() -> None:
    for doc in (ROOT / "README.md", *DOCS):
        for target in re.findall(r"\]\((?!https?:|#)([^)#]+)", doc.read_text(encoding="utf-8")):
            assert (doc.parent / target).exists(), f"{doc.name} links to {target}"


def test_every_file_of_the_program_that_a_document_names_is_there() -> None:
    """Paths in code marks, from the repository, the program or the front end."""
    roots = (ROOT, SRC, WEB / "src")
    for doc in (README_FILE, CONTRIBUTING, *DOCS):
        for name in re.findall(NAMED, doc.read_text(encoding="utf-8")):
            assert any((r / name).exists() for r in roots), f"{doc.name} names {name}"


def test_the_version_stands_once_and_the_changes_begin_with_it() -> None:
    changes = (ROOT / "CHANGELOG.md").read_text(encoding="utf-8")
    assert re.findall(r"^## (\S+)", changes, re.M)[0] == keen_tracer.__version__
    stated = (ROOT / "pyproject.toml").read_text(encoding="utf-8")
    assert f'"{keen_tracer.__version__}"' not in stated


def test_every_picture_is_linked_from_the_readme() -> None:
    pictures = list((ROOT / "docs" / "screenshots").glob("*.png"))
    assert pictures
    assert len(pictures) < 20
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in README


def test_every_table_and_column_is_described() -> None:
    text = (ROOT / "docs" / "formats.md").read_text(encoding="utf-8")
    for table in TABLES.values():
        assert f"{table.name}.csv" in text
        for column in table.columns:
            assert re.search(rf"\b{column}\b", text), f"{table.name}.{column}"


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ("class", terms.CLASSES),
        ("fuel", terms.FUELS),
        ("meter_unit", terms.METER_UNITS),
        ("kind of event", terms.EVENT_KINDS),
        ("part of a symptom", terms.SYMPTOMS),
        ("part of a field check", field_checks()),
        ("tool", terms.TOOLS),
        ("type of debris", debris_types()),
        ("kind of plan", terms.PLAN_KINDS),
        ("method", terms.METHODS),
        ("purpose", terms.PURPOSES),
        ("features", terms.FEATURES),
    ],
)
def test_the_words_of_the_files_are_those_of_the_vocabulary(
    said: str, words: Collection[str]
) -> None:
    text = (ROOT / "docs" / "formats.md").read_text(encoding="utf-8")
    found = re.search(rf"^- {said}\b[^:]*: (.+)$", text, re.M)
    assert found
    assert re.sub(r" \(.*?\)", "", found[1]).split(" · ") == [*words]


def test_every_source_of_a_table_is_in_the_list_of_sources() -> None:
    text = (ROOT / "docs" / "sources.md").read_text(encoding="utf-8")
    for word in (
        "SAE J300",
        "ASTM D5185",
        "ASTM D445",
        "ASTM D2896",
        "ASTM D341",
        "ASTM D3244",
        "recalled",
    ):
        assert word in text


def test_no_lock_file_names_an_address() -> None:
    for lock in [*ROOT.glob("requirements/*.lock"), WEB / "package-lock.json", WEB / ".npmrc"]:
        text = lock.read_text(encoding="utf-8")
        assert '"resolved": "http' not in text, lock
        assert "index-url" not in text, lock


def squeezed(text: str) -> str:
    """Without what prettier decides."""
    return re.sub(r"[\s;,'\"]+", "", text)


def test_the_front_ends_vocabulary_is_that_of_the_server() -> None:
    kept = (WEB / "src" / "lib" / "api" / "terms.ts").read_text(encoding="utf-8")
    assert squeezed(kept) == squeezed(terms_module())


def test_the_front_ends_types_are_those_of_the_server() -> None:
    """Made with `npm run types`; a change of the contract has to reach the pages."""
    made = WEB / "openapi.json"
    made.write_text(openapi(), encoding="utf-8")
    printed = subprocess.run(
        ["npx", "openapi-typescript", str(made)],
        cwd=WEB,
        capture_output=True,
        text=True,
        check=True,
    )
    kept = (WEB / "src" / "lib" / "api" / "schema.d.ts").read_text(encoding="utf-8")

    assert squeezed(printed.stdout) == squeezed(kept)


def test_the_matrix_of_doors_and_rights_is_that_of_the_core() -> None:
    """docs/security.md: a row for every file and every right, as `core/roles.py` has them."""
    text = (ROOT / "docs" / "security.md").read_text(encoding="utf-8")
    said = {
        cells[0]: cells[1:]
        for line in text.splitlines()
        if line.startswith("| ") and len(cells := [c.strip() for c in line.split("|")[1:-1]]) > 3
    }
    for table, doors in DOORS.items():
        assert said[f"{table}.csv"] == ["yes" if d in doors else "" for d in DOOR_WORDS], table
    roles = (*ROLES, "machine", "program")
    assert said["what"] == list(roles)
    for right in RIGHTS.values():
        head = right.words.split(":")[0].split(";")[0]
        assert said[head] == ["yes" if r in right.roles else "" for r in roles], head
