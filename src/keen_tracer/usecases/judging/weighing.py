"""What evidence weighs for each failure mode: as it holds, edited as a draft, tried on the newest
samples, published as a version."""

from collections.abc import Sequence

from ...core.causes import BadWeight, Mode, WeightRow, evidence_table, with_weights
from ...core.judge import verdicts
from ...core.roles import Actor, check_may
from ...storage import fleet
from ...storage.db import Connection
from ...storage.peers import publish_weights, weights_in_force
from ...storage.records import row, rows, run
from ..answers.from_rows import answers
from ..answers.library import LimitsVersion
from ..answers.standards import LeadChange, ModeOut, WeightsOut, WeightsTried
from ..errors import CannotRecord, NoLimits
from .publishing import SHOWN
from .spread import spread_over
from .standards import Standards, standards

PRIOR = "prior"
SHIPPED = "our choice, as shipped"


def weights(connection: Connection) -> WeightsOut:
    """The version in force: every mode with what each piece of evidence adds to it, and whose
    figure it is."""
    name, given = weights_in_force(connection)
    origin = {r.key: r.origin for r in given}
    known = evidence_table()
    return {
        "version": name,
        "versions": answers(LimitsVersion, rows(connection, "weights_versions")),
        "evidence": [{"code": e.code, "words": e.words, "kind": e.kind} for e in known.values()],
        "modes": [_mode(m, origin) for m in with_weights(given)],
    }


def _mode(m: Mode, origin: dict[tuple[str, str], str]) -> ModeOut:
    return {
        "code": m.code,
        "words": m.words,
        "channel": m.channel,
        "needs": sorted(m.where),
        "never": sorted(m.not_where),
        "prior": m.prior,
        "origin": origin.get((m.code, PRIOR), SHIPPED),
        "weights": [
            {
                "evidence": code,
                "seen": seen,
                "absent": absent,
                "origin": origin.get((m.code, code), SHIPPED),
            }
            for code, (seen, absent) in m.weights.items()
        ],
    }


def _draft(connection: Connection, given: Sequence[WeightRow]) -> tuple[WeightRow, ...]:
    """The weights in force with a draft over them; every row is checked."""
    if not given:
        raise CannotRecord("nothing_changed", "change a weight first")
    for r in given:
        if not r.origin.strip():
            raise CannotRecord("origin_required", f"{r.mode}: say where the figure comes from")
    try:
        with_weights(given)
    except BadWeight as error:
        raise CannotRecord("bad_weight", str(error)) from error
    over = {r.key: r for r in given}
    return tuple(({r.key: r for r in weights_in_force(connection)[1]} | over).values())


def _leads(connection: Connection, part: list[int], held: Standards) -> dict[str, tuple[str, str]]:
    """Newest sample of each engine → (engine, leading mode)."""
    loaded = fleet.load(connection, part)
    if not loaded.sample_ids:
        return {}
    a = held.assess(connection, loaded.fleet)
    newest = {p.engine.code: i for i, p in enumerate(a.evaluation.contexts)}
    found = verdicts(a)
    return {found[i].sample: (engine, found[i].lead) for engine, i in newest.items()}


def try_weights(connection: Connection, given: Sequence[WeightRow]) -> WeightsTried:
    """For which engines a draft would put another mode first, by their newest samples. Nothing is
    written; levels do not depend on weights."""
    held = standards(connection)
    if held is None:
        raise NoLimits("no version of limits is published")
    drafted = held.with_weights(_draft(connection, given))
    changes: list[LeadChange] = []
    tried = 0
    for part in fleet.batches(connection, spread_over(connection), samples=2000):
        was, now = _leads(connection, part, held), _leads(connection, part, drafted)
        tried += len(was)
        changes += [
            {"sample": s, "engine": engine, "was": lead, "now": now[s][1]}
            for s, (engine, lead) in was.items()
            # A sample that came in between the two looks is in one of them only.
            if s in now and now[s][1] != lead
        ]
    return {"tried": tried, "changed": len(changes), "changes": changes[:SHOWN]}


def publish(connection: Connection, name: str, given: Sequence[WeightRow], who: Actor) -> str:
    """Publish a draft as a new version; every engine is judged again."""
    check_may(who, "publish")
    name = name.strip()
    if not name:
        raise CannotRecord("name_required", "give the new version a name")
    if row(connection, "weights_named", name=name) is not None:
        raise CannotRecord(
            "name_taken", f"a version {name!r} is published already; versions never change"
        )
    publish_weights(connection, name, who.name, _draft(connection, given))
    run(connection, "mark_all_stale")
    return name
