"""One import under way, and what it came to. Shared by the modules that each read some of the
tables."""

from collections.abc import Callable
from dataclasses import dataclass, field

from ...core.baseline import PeerRow
from ...core.causes import WeightRow
from ...core.limits import LimitRow
from ...core.names import LooksAlike, check_name, skeleton
from ...core.roles import Actor
from ...exchange.csvfile import Problem, Problems, Row
from ...storage.db import Connection

# What is answered to a page has every field, also one that has a default here.
COMPLETE = {"json_schema_serialization_defaults_required": True}


@dataclass(frozen=True, slots=True)
class Change:
    """Something already on record that a file says otherwise: shown old → new, taken only if
    accepted."""

    file: str
    row: int
    what: str
    old: str
    new: str


@dataclass
class FileReport:
    """What one file came to."""

    __pydantic_config__ = COMPLETE

    name: str
    table: str
    rows: int = 0
    added: int = 0
    known: int = 0
    ignored: list[str] = field(default_factory=list)
    note: str = ""


@dataclass
class ImportReport:
    """What an import (or its preview) came to. Written only when there is no problem."""

    __pydantic_config__ = COMPLETE

    files: list[FileReport] = field(default_factory=list)
    problems: list[Problem] = field(default_factory=list)
    problem_count: int = 0
    changes: list[Change] = field(default_factory=list)
    change_count: int = 0
    amendments: list[Change] = field(default_factory=list)
    unmatched: list[str] = field(default_factory=list)
    written: bool = False
    engines: int = 0

    @property
    def added(self) -> int:
        return sum(f.added for f in self.files)


@dataclass
class Task:
    """One import under way: the transaction, what was found so far, and who does it."""

    connection: Connection
    actor: Actor
    accept: bool
    most_rows: int | None = None
    as_record: bool = False
    tell: Callable[[int], None] = lambda rows: None
    # a photograph of the export by its SHA-256, None where it does not lie beside
    picture: Callable[[str], bytes | None] = lambda sha256: None
    problems: Problems = field(default_factory=Problems)
    report: ImportReport = field(default_factory=ImportReport)
    touched: set[int] = field(default_factory=set)
    all_touched: bool = False
    engines: dict[str, int] = field(default_factory=dict)
    taken_names: dict[str, str] = field(default_factory=dict)
    file: FileReport = field(default_factory=lambda: FileReport("", ""))
    source: int = 0
    sources: list[int] = field(default_factory=list)
    limits: dict[str, dict[tuple[str, str, str, int], tuple[int, LimitRow]]] = field(
        default_factory=dict
    )
    peers: dict[str, list[PeerRow]] = field(default_factory=dict)
    weights: dict[str, dict[tuple[str, str], WeightRow]] = field(default_factory=dict)
    looks: dict[str, list[Row]] = field(default_factory=dict)
    waiting_rows: dict[tuple[str, str, int], list[Row]] = field(default_factory=dict)

    def problem(self, at: int | None, column: str | None, what: str, fix: str) -> None:
        self.problems.add(self.file.name, at, column, what, fix)

    def change(self, at: int, what: str, old: str, new: str) -> None:
        self.report.change_count += 1
        if len(self.report.changes) < 1000:
            self.report.changes.append(Change(self.file.name, at, what, old, new))

    def new_name(self, kind: str, name: str, at: int, taken: dict[str, str]) -> bool:
        """Whether a new name can be told from those taken (skeleton → name), to which it is added;
        a problem where not."""
        try:
            check_name(name)
            twin = taken.setdefault(skeleton(name), name)
            if twin != name:
                raise LooksAlike(f"{name!r} reads like {twin!r}, which is on record")
        except LooksAlike as error:
            self.problem(at, kind, str(error), "give it a name of its own")
            return False
        return True

    def their_own(self, at: int, by: str) -> bool:
        """Whether what somebody answered for comes in by themselves, or as part of a whole record;
        a problem where not."""
        if self.as_record or by == self.actor.name:
            return True
        self.problem(
            at,
            "by",
            f"{by!r} is not {self.actor.name}: nobody brings in another's word",
            "let them say it on the page; a whole record comes in by ./keen import --as-record",
        )
        return False

    def engine(self, code: str, at: int) -> int | None:
        """The id of an engine; a problem when it is not known."""
        if not self.engines:
            self.engines = dict(self.connection.execute("select code, id from engine").fetchall())
        found = self.engines.get(code)
        if found is None:
            self.problem(
                at,
                "engine",
                f"engine {code!r} is not known",
                "import engines.csv with it first (or in the same call), or correct the name",
            )
        return found
