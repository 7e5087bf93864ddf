"""Rules about the code that are tests: who may import whom, and that every figure has an origin."""

import ast
import importlib
import re
from pathlib import Path

from launcher.paths import ROOT

SRC = ROOT / "src" / "keen_tracer"
IN_TEXT = r"from (keen_tracer[\w.]+) import ([\w, ]+)"


def imports(file: Path) -> set[tuple[str, str]]:
    """(package of ours, module in it) for every import of our own code; ("", name) for others."""
    out = set()
    parts = file.relative_to(SRC).parts[:-1]
    for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.level:
            base = [*parts[: len(parts) - node.level + 1], *(node.module or "").split(".")]
            names = [p for p in base if p] or [""]
            more = [a.name for a in node.names] if len(names) == 1 else [names[1]]
            out |= {(names[0], m) for m in more}
        elif isinstance(node, ast.ImportFrom):
            out.add(("", (node.module or "").split(".")[0]))
        elif isinstance(node, ast.Import):
            out |= {("", a.name.split(".")[0]) for a in node.names}
    return out


FILES = sorted(SRC.rglob("*.py"))


def test_only_storage_talks_to_the_driver() -> None:
    for file in FILES:
        if ("", "psycopg") in imports(file) or ("", "psycopg_pool") in imports(file):
            assert file.relative_to(SRC).parts[0] == "storage", file


def test_the_core_knows_no_interface_and_no_clock() -> None:
    for file in (SRC / "core").rglob("*.py"):
        names = {m for p, m in imports(file) if not p}
        assert not names & {
            "fastapi",
            "starlette",
            "pydantic",
            "psycopg",
            "os",
            "socket",
            "random",
        }, file
        assert "clock" not in names, file


# What asks the machine for the time; the two files that may, and this one, which names it.
ASKS_THE_TIME = re.compile(r"date\.today\(|datetime\.now\(|utcnow\(|\btime\.time\(|localtime\(")
CLOCKS = {SRC / "clock.py", ROOT / "tests" / "day.py", Path(__file__)}
FIRST_ON_THE_CLOCK = 19  # the migration from which on the database has the program's clock


def test_there_is_one_clock() -> None:
    """A second one would be another day at midnight, and another hour on another machine."""
    for file in {*FILES, *(ROOT / "tests").rglob("*.py")} - CLOCKS:
        found = ASKS_THE_TIME.search(file.read_text(encoding="utf-8"))
        assert not found, f"{file}: {found and found[0]}: ask keen_tracer.clock"


def test_no_query_and_no_new_migration_asks_the_database_for_the_time() -> None:
    """`keen_now()` and `keen_clock()` are the program's clock in the database."""
    own = re.compile(r"\b(now|clock_timestamp|statement_timestamp)\(\)|current_(date|timestamp)")
    later = [
        f
        for f in (SRC / "storage" / "migrations").glob("0*.sql")
        if int(f.name[:4]) > FIRST_ON_THE_CLOCK
    ]
    for file in [*(SRC / "storage" / "queries").glob("*.sql"), *later]:
        found = own.search(file.read_text(encoding="utf-8").lower())
        assert not found, f"{file}: {found and found[0]}"


def test_only_the_time_line_orders_a_log() -> None:
    """Sorting log rows by date elsewhere would be a second opinion on order."""
    for file in FILES:
        if file.name == "timeline.py":
            continue
        text = file.read_text(encoding="utf-8")
        assert "key=lambda r: r.on" not in text, file
        assert "groupby" not in text, file


def test_no_query_is_put_together_from_strings() -> None:
    """Values go in as parameters, identifiers through psycopg.sql; ruff's S608 watches the rest."""
    for file in (SRC / "storage").rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Attribute)
                and node.func.attr == "execute"
            ):
                assert not isinstance(node.args[0], ast.JoinedStr | ast.BinOp), (
                    f"{file}:{node.lineno}"
                )


def test_programs_kept_as_text_import_what_is_there() -> None:
    """A bench measures in processes of its own, whose few lines no type checker reads."""
    found = 0
    for file in FILES:
        for module, names in re.findall(IN_TEXT, file.read_text(encoding="utf-8")):
            for name in names.split(","):
                assert hasattr(importlib.import_module(module), name.strip()), (file, name)
                found += 1
    assert found


def test_functions_stay_short() -> None:
    for file in FILES:
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef):
                said = ast.get_docstring(node, clean=False) or ""
                code = (node.end_lineno or 0) - node.lineno - said.count("\n")
                assert code <= 60, f"{file.name}:{node.name}"


def test_rooms_are_entered_by_their_front_doors() -> None:
    """What a room shows stands in its `__init__`; nobody reaches past it into a file."""
    rooms = {p.name for p in (SRC / "core").iterdir() if (p / "__init__.py").exists()} - {"tables"}
    for file in FILES:
        inside = file.relative_to(SRC).parts
        room = inside[1] if inside[0] == "core" and len(inside) == 3 else None
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.ImportFrom) or not node.level or not node.module:
                continue
            base = [*inside[:-1]][: len(inside) - node.level]
            target = [*base, *node.module.split(".")]
            if target[0] == "core" and len(target) > 2 and target[1] in rooms:
                assert target[1] == room, f"{file.relative_to(SRC)} reaches into {'.'.join(target)}"


def test_front_doors_show_only_what_is_asked_for() -> None:
    """A name nobody outside the room uses is no part of its front door."""
    used = "\n".join(f.read_text(encoding="utf-8") for f in FILES if f.name != "__init__.py")
    for door in (SRC / "core").glob("*/__init__.py"):
        for node in ast.parse(door.read_text(encoding="utf-8")).body:
            if not isinstance(node, ast.Assign) or ast.unparse(node.targets[0]) != "__all__":
                continue
            for name in ast.literal_eval(node.value):
                others = used.count(name)
                assert others >= 2, f"{door.parent.name}.{name} is shown and not asked for"


def test_no_figure_of_the_code_is_looked_up_by_a_positional_crowd() -> None:
    """A class of more than eight fields is made by name: order is no meaning."""
    for file in (SRC / "core").rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if not isinstance(node, ast.ClassDef):
                continue
            made = [d for d in node.decorator_list if "dataclass" in ast.unparse(d)]
            fields = [n for n in node.body if isinstance(n, ast.AnnAssign)]
            if made and len(fields) > 8:
                assert "kw_only=True" in ast.unparse(made[0]) or node.name in POSITIONAL, (
                    f"{file.name}:{node.name}"
                )


# Facts of the record, whose first fields are their identity and are given in that order.
POSITIONAL = {"Engine", "LogRow", "Sample", "SampleContext"}


# Where anything may stand: what a person or a file gives is looked at key by key.
_OPEN = {("api", "errors.py"), ("api", "record_models.py"), ("usecases/pages", "terms.py")}


def test_what_a_use_case_takes_and_answers_has_a_shape() -> None:
    """A dictionary of anything in a signature says nothing: it is an answer, a stored shape, a row
    of the database or the cells of a file, by that name."""
    bare = re.compile(r"dict\[str, (?:Any|object)\]")
    for file in [*(SRC / "usecases").rglob("*.py"), *(SRC / "api").rglob("*.py")]:
        where = (file.parent.relative_to(SRC).as_posix(), file.name)
        if where in _OPEN:
            continue
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef):
                given = [node.returns, *(a.annotation for a in node.args.args)]
                told = [ast.unparse(x) for x in given if x is not None]
                assert not any(bare.search(x) for x in told), f"{file}: {node.name}"
