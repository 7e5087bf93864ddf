"""Published peers and chosen policies in, as an export wrote them."""

import re

from ...core.baseline import ELEMENTS, FACTOR_RANGE, STEEPEST_DUTY, PeerRow
from ...core.laboratory import BY_COLUMN
from ...core.limits import scope_names
from ...exchange.csvfile import Row
from ...storage.peers import Choice, choose_policy, policies_in_force, publish_peers
from ...storage.records import row, rows
from .task import Task

_MONTH = re.compile(r"\d{4}-(0[1-9]|1[0-2])")


def peers(task: Task, part: list[Row]) -> None:
    """Rows of peers.csv, collected by version until the file ends."""
    for r in part:
        c = r.cells
        analyte = BY_COLUMN[c["analyte"]]
        if analyte.index not in ELEMENTS:
            task.problem(r.number, "analyte", f"{c['analyte']} has no peers", "leave the row out")
            continue
        if c["kind"] == "season" and c.get("other") not in ("0", "1", "2", "3"):
            task.problem(
                r.number, "other", "a season is 0 to 3, 0 from December to February", "correct it"
            )
            continue
        if c["kind"] == "neighbours" and not _MONTH.fullmatch(c.get("other") or ""):
            task.problem(r.number, "other", "a month is written 2026-01", "correct it")
            continue
        if c.get("factor") is not None and not FACTOR_RANGE[0] <= c["factor"] <= FACTOR_RANGE[1]:
            task.problem(
                r.number,
                "factor",
                f"a factor on the spread lies between {FACTOR_RANGE[0]:g} and {FACTOR_RANGE[1]:g}",
                "correct it",
            )
            continue
        if c["kind"] == "duty" and not abs(c.get("mean") or 0.0) <= STEEPEST_DUTY:
            task.problem(
                r.number,
                "mean",
                f"a slope on duty lies between -{STEEPEST_DUTY:g} and {STEEPEST_DUTY:g}",
                "correct it",
            )
            continue
        task.peers.setdefault(c["version"], []).append(
            PeerRow(
                kind=c["kind"],
                name=c["name"],
                other=c.get("other") or "",
                analyte=analyte.code,
                n=c.get("n") or 0,
                mean=c.get("mean"),
                median=c.get("median"),
                sd=c.get("sd"),
                factor=c.get("factor"),
                origin=c["origin"],
            )
        )


def finish_peers(task: Task) -> None:
    """Publish each version that is not known; one that is must say the same."""
    for name, given in task.peers.items():
        known = row(task.connection, "peers_named", name=name)
        if known is None:
            publish_peers(task.connection, name, task.actor.name, given, {})
            task.file.added += len(given)
            task.all_touched = True
            continue
        have = {PeerRow(**x) for x in rows(task.connection, "peer_groups", version=known["id"])}
        codes = [r.name for r in given if r.kind == "engine"]
        have |= {
            PeerRow(**x)
            for x in rows(task.connection, "peer_means", version=known["id"], codes=codes)
        }
        if set(given) <= have:
            task.file.known += len(given)
        else:
            task.problem(
                None,
                "version",
                f"version {name!r} is published with other rows",
                "publish peers anew instead; published versions never change",
            )
    task.peers = {}


def policies(task: Task, part: list[Row]) -> None:
    """Rows of policies.csv; one that differs from what holds is a change to accept."""
    held = policies_in_force(task.connection)
    for r in part:
        scope, name, policy = r.cells["scope"], r.cells["scope_name"], r.cells["policy"]
        engine = task.engine(name, r.number) if scope == "engine" else None
        if scope == "engine" and engine is None:
            continue
        if scope == "class" and name not in scope_names():
            task.problem(
                r.number,
                "scope_name",
                f"class {name!r} is not known",
                f"write one of {', '.join(scope_names()[:8])}",
            )
            continue
        before = (held.engines if scope == "engine" else held.classes).get(name)
        if before == policy:
            task.file.known += 1
            continue
        if before is None:
            task.file.added += 1
        else:
            task.file.known += 1
            task.change(r.number, f"policy of {name}", before, policy)
        if before is None or task.accept:
            chosen = Choice(scope, name, policy, r.cells.get("reason") or "")
            choose_policy(task.connection, chosen, task.actor.name)
            task.all_touched = True
