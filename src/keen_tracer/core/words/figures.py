"""Numbers and days as people read them. The only formatter; the pages have its twin in
`web/src/lib/words.ts`, held against the same table (`tables/figures_as_read.csv`)."""

from datetime import date

from ..bounds import Bound
from ..laboratory import plain_text

THIN_GAP = "\u202f"


def _thousands(x: float) -> str:
    """Whole, with thin gaps; halves go to the even neighbour, as Python and the pages both do."""
    return f"{round(x):,}".replace(",", THIN_GAP)


def small(text: str) -> str:
    """A name inside a sentence: its first letter small, units and symbols as they are.

    >>> small("Viscosity at 100 °C")
    'viscosity at 100 °C'
    """
    return text[:1].lower() + text[1:]


def large(text: str) -> str:
    """The same at the beginning of a sentence.

    >>> large("white smoke")
    'White smoke'
    """
    return text[:1].upper() + text[1:]


def quoted(text: str) -> str:
    """What somebody wrote, as a sentence of its own.

    >>> quoted("two tries, the same"), quoted("Done.")
    ('“two tries, the same.”', '“Done.”')
    """
    end = "" if text.endswith((".", "!", "?")) else "."
    return f"“{text}{end}”"


def figure(x: float) -> str:
    """A reading, a limit, a meter: four significant digits, whole and with a thin gap from 1000.

    >>> figure(12.345), figure(0.1)
    ('12.35', '0.1')
    """
    rounded = float(f"{x:.4g}")
    return _thousands(x) if abs(rounded) >= 1000 else plain_text(rounded, 15)


def computed(x: float) -> str:
    """A computed number: three figures say all that its inputs do.

    >>> computed(5.508), computed(14.09), computed(999.6)
    ('5.51', '14.1', '1\u202f000')
    """
    rounded = float(f"{x:.3g}")
    return _thousands(x) if abs(rounded) >= 1000 else plain_text(rounded, 15)


def day(iso: str) -> str:
    """A date in words: 2026-11-04 → 4 Nov 2026.

    >>> day("2026-11-04")
    '4 Nov 2026'
    """
    d = date.fromisoformat(iso)
    return f"{d.day} {d:%b %Y}"


def short_day(d: date) -> str:
    """A date near to now, without its year.

    >>> short_day(date(2026, 11, 4))
    '4 Nov'
    """
    return f"{d.day} {d:%b}"


def listed(words: list[str]) -> str:
    """Words in a row.

    >>> listed(["iron", "lead", "tin"])
    'iron, lead and tin'
    """
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def range_words(b: Bound) -> str:
    """From where to where a figure may lie.

    >>> from keen_tracer.core.bounds import BOUNDS
    >>> range_words(BOUNDS["whole_days"])
    'from 1 to 3\\u202f650 days, whole'
    """
    ends = f"{'above' if b.above else 'from'} {b.low:,.10g} to {b.high:,.10g}"
    return f"{ends.replace(',', THIN_GAP)} {b.unit}".rstrip() + (", whole" if b.whole else "")
