"""A work list on paper: a box to tick, what is to be done to which engine by when, what one needs,
the caution at that step, and a line for who did it and what came of it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from html import escape

_STYLE = """<style>
.jobs td { padding: 1.6mm 3mm 1.6mm 0 } .jobs .box { width: 4mm }
.jobs .box span { display: block; width: 3.4mm; height: 3.4mm; border: .3mm solid #22303a }
.jobs .engine { width: 32mm; white-space: normal } .jobs .by { width: 24mm }
.jobs .result { width: 42mm }
.jobs .result p { border-bottom: .2mm solid #5c6870; height: 6mm; margin: 0; color: #5c6870;
  font-size: 7.5pt }
.halt { font-weight: 700; color: #5b1140 } .late { font-weight: 700; color: #a63216 }
</style>"""


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """One row of the printed work list. Every field is the text as it is printed."""

    engine: str
    place: str
    halted: str
    what: str
    by: str
    late: str
    hours: str
    tools: str
    caution: str
    after: str
    who: str


def _line(said: str, mark: str = "muted small") -> str:
    return f'<div class="{mark}">{escape(said)}</div>' if said else ""


def _row(job: Job) -> str:
    engine = f"<b>{escape(job.engine)}</b>{_line(job.place)}{_line(job.halted, 'halt small')}"
    what = escape(job.what) + _line(job.after) + _line(job.tools)
    what += _line(job.caution, "caution small")
    return (
        f'<tr><td class="box"><span></span></td><td class="engine">{engine}</td><td>{what}</td>'
        f'<td class="by">{escape(job.by)}{_line(job.late, "late")}</td>'
        f'<td class="num">{escape(job.hours)}</td>'
        f'<td class="result"><p>{escape(job.who) or "Name"}</p><p>Result</p></td></tr>'
    )


def work_list(title: str, days: Iterable[tuple[str, Sequence[Job]]]) -> str:
    """The body of a work list: (day in words, its jobs) in order."""
    out = [_STYLE, f"<h1>{escape(title)}</h1>"]
    for day, jobs in days:
        head = "".join(f"<th>{x}</th>" for x in ("", "Engine", "What", "By", "h", "Done"))
        body = "".join(map(_row, jobs))
        out.append(
            f'<h2>{escape(day)}</h2><table class="jobs"><thead><tr>{head}</tr></thead>'
            f"<tbody>{body}</tbody></table>"
        )
    if len(out) == 2:
        out.append("<p>No work is due in these weeks.</p>")
    return "".join(out)
