"""The names of reasons: a release lifts the rows and the figures it saw, by these.

A row of the log is named by what it says and by its own identity, so that the same written again is
another one; a figure of a sample by its value, so that a figure put right is another one. Names are
the same after an export and an import.
"""

import re
from collections.abc import Iterator
from hashlib import blake2b

from ..findings import Finding, payloads
from ..laboratory import BY_SYMBOL
from ..record import Moment
from ..verdict import Verdict

# Before which of several parts of an engine, and before the identity of a row or the figures of a
# sample; versions that did not write them meant all of them.
_WHERE, _WHICH = "@", "#"


def _short(text: str) -> str:
    return blake2b(text.encode(), digest_size=5).hexdigest()


def fact_key(moment: Moment, finding: Finding) -> str:
    """The name of what a row of the log says."""
    row = moment.row
    dial = "" if row.dial is None else f"{row.dial:g}"
    kind = getattr(finding.numbers, "type", "")
    part = row.look.place if row.look else row.part
    said: tuple[str, ...] = ("log", row.on.isoformat(), row.kind, part, dial, finding.code, kind)
    at = " ".join(filter(None, (row.details.get(x, "") for x in ("position", "side"))))
    if row.kind == "finding" and at:
        said += (f"{_WHERE}{at}",)
    # Files list keys between semicolons.
    key = ":".join(said).rstrip(":").replace(";", ",")
    # One row may say several things of one part: that it is worn, and that it is out of its limit.
    return f"{key}:{_WHICH}{_short(row.id)}.{getattr(finding.numbers, 'fact', '')}"


def mark_of_row(row: str) -> str:
    """What the reasons of the row of this identity carry in their names."""
    return _short(row)


def mark_in(key: str) -> str:
    """The mark of the row that a reason is of; "" for one of a sample, or of an earlier version.

    >>> mark_in("log:2026-11-24:symptom::120:knock:#ab12cd34ef.knock"), mark_in("sample:S-1:x:Fe")
    ('ab12cd34ef', '')
    """
    if not key.startswith("log:"):
        return ""
    found = re.search(rf":{_WHICH}(\w+)\.[^:]*$", key)
    return found[1] if found else ""


def sample_key(verdict: Verdict, finding: Finding) -> str:
    """The name of what a sample says, with the figures it says it by."""
    key = f"sample:{verdict.sample}:{finding.code}:{finding.analyte or finding.channel}"
    behind = [finding.analyte] if finding.analyte else []
    if isinstance(finding.numbers, payloads.Pattern):
        behind += [BY_SYMBOL[m].column for m in finding.numbers.elements]
    figures = [f"{c}={verdict.readings[c]}" for c in sorted(set(behind)) if c in verdict.readings]
    return f"{key}:{_WHICH}{_short('|'.join(figures))}" if figures else key


def older_keys(key: str) -> Iterator[str]:
    """The names that earlier versions gave the same reason: without the identity or the figures,
    and without which of several parts.

    >>> list(older_keys("log:2026-11-24:finding:rod_bearing::finding:@2:#ab12"))[-1]
    'log:2026-11-24:finding:rod_bearing::finding'
    """
    plain = key.split(f":{_WHICH}")[0]
    if plain != key:
        yield plain
    part = plain.split(f":{_WHERE}")[0].rstrip(":")
    if part != plain:
        yield part
