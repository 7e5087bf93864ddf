"""What a table of ours holds, as a table schema: for the data package, for templates, for the page
that explains the files."""

from typing import Any

from ..core.laboratory import ANALYTES
from . import cells
from .cells import Bounded, OneOf, Parser
from .table import Table, bottle_code

TYPES: dict[Parser, str] = {
    cells.day: "date",
    cells.day_ahead: "date",
    cells.yes_no: "boolean",
    cells.document: "object",
    cells.moment: "datetime",
}
# Tables whose first column names each row; what others name of them is checked.
NAMED = ("depots", "models", "coolants", "engines", "samples")
OF = {"engine": ("engines", "engine"), "depot": ("depots", "depot"), "model": ("models", "model")}


def field(table: Table, name: str) -> dict[str, Any]:
    """One column: its type, and what it may hold."""
    parser = table.columns[name]
    out: dict[str, Any] = {"name": name, "type": TYPES.get(parser, "string")}
    limits: dict[str, Any] = {"required": True} if name in table.required else {}
    if isinstance(parser, OneOf):
        limits["enum"] = list(parser.known)
    if isinstance(parser, Bounded):
        out["type"] = "integer" if parser.bound.whole else "number"
        limits |= {"minimum": parser.bound.low, "maximum": parser.bound.high}
    if out["type"] == "boolean":
        out |= {"trueValues": ["yes"], "falseValues": ["no"]}
    return out | ({"constraints": limits} if limits and not table.export_only else {})


def schema(table: Table) -> dict[str, Any]:
    """A table schema (Frictionless) of a table as it is exported."""
    fields = [field(table, name) for name in table.columns]
    if table.analytes and table.name == "oils":
        fields += [{"name": a.column, "type": "string"} for a in ANALYTES]
    out: dict[str, Any] = {"fields": fields, "missingValues": [""]}
    if table.name in NAMED:
        out["primaryKey"] = next(iter(table.columns))
    keys = [
        {"fields": name, "reference": {"resource": resource, "fields": column}}
        for name, (resource, column) in OF.items()
        if name in table.columns and table.name != resource and table.columns[name] != bottle_code
    ]
    return out | ({"foreignKeys": keys} if keys else {})
