"""The queue of the analyst: samples that wait for a person."""

from datetime import date
from typing import Any

from ...core.status import waits
from ...core.terms import CHANNELS
from ...storage.db import Connection
from ...storage.records import Row, rows


def waiting(c: Connection) -> list[Row]:
    """The samples that wait for a person, worst first, then oldest."""
    found = [
        r
        for r in rows(c, "queue")
        if waits(
            r["level"],
            r["input_hash"],
            {**r, "kind": r["decision_kind"]} if r["standing"] else None,
        )
    ]
    return sorted(found, key=lambda r: (-r["level"], r["on_date"], r["engine"]))


def queue(c: Connection) -> list[dict[str, Any]]:
    """What waits for the analyst, as the desk lists it."""
    today = date.today()
    doubted = {r["sample"] for r in rows(c, "samples_with_queries")}
    return [
        {
            "sample": r["sample"],
            "queried": r["sample"] in doubted,
            "engine": r["engine"],
            "name": r["name"],
            "depot": r["depot"],
            "on": r["on_date"],
            "age_days": (today - r["on_date"]).days,
            "level": r["level"],
            "was_signed": r["signed_level"] if r["decision_kind"] == "sign_off" else None,
            "basis": r["input_hash"],
            "standing": r["standing"],
            "not_measured": [
                w
                for w, level in zip(CHANNELS.values(), r["channels"], strict=True)
                if level is None
            ],
        }
        for r in waiting(c)[:500]
    ]
