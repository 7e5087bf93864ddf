"""A cell of a laboratory's table as the program writes it: figures, units, marks, days, names."""

import re
from collections.abc import Sequence
from datetime import date, timedelta

from ...core.bounds import NAME
from ...core.laboratory import WORDS
from ..cells import BadCell
from .names import fits, unit_of

FIGURE = re.compile(r"^[<>≤≥]?\s*\d[\d.,]*$")
NOTHING = {
    *("", "-", "--", "---", "----", "–", "—", ".", "..", "*", "/", "n/a", "na", "n.a.", "n.a"),
    *("nil", "none", "not tested", "not measured", "not analysed", "nt", "n.t.", "n.m.", "n.b."),
    *("k.a.", "s/d", "n/m", "n.r.", "not required"),
}
_MONTHS = {
    m: n
    for n, names in enumerate(
        (
            "jan januar january janvier janv ene enero gen gennaio styczeń stycznia sty",
            "feb februar february février fevrier févr fevr fév febrero febbraio luty lutego lut",
            "mar mär märz mrz march mars marzo marzec marca",
            "apr april avril avr abr abril aprile kwiecień kwietnia kwi",
            "may mai mayo mag maggio maj maja",
            "jun juni june juin junio giu giugno czerwiec czerwca cze",
            "jul juli july juillet juil julio lug luglio lipiec lipca lip",
            "aug august août aout ago agosto sierpień sierpnia sie",
            "sep sept september septembre septiembre set settembre wrzesień września wrz",
            "oct okt october oktober octobre octubre ott ottobre październik października paź",
            "nov november novembre noviembre listopad listopada lis",
            "dec dez december dezember décembre decembre déc dic diciembre dicembre grudzień"
            " grudnia gru",
        ),
        1,
    )
    for m in names.split()
}  # fmt: skip
_NUMBER = re.compile(
    r"^(?P<sign>[<>≤≥]?)\s*(?P<number>-?\d[\d.,' \u2009]*)"
    r"(?P<power>[eE][+-]?\d{1,2}\b)?(?P<rest>.*)$"
)
# Spaces and apostrophes between figures part thousands, in groups of three, and nothing else.
_APART = re.compile(r"[' \u2009]")
_THOUSANDS = re.compile(r"-?\d{1,3}([' \u2009]\d{3})+([.,]\d+)?")
# What a laboratory sets beside a figure to say how it judged it: not read, but counted.
_AHEAD = re.compile(r"^[*!†‡▲▼↑↓]+\s*(?=[<>≤≥\d])")
_BEHIND = re.compile(
    r"(?<=[\d%])\s*([*!†‡▲▼↑↓]+|[(\[]?(?:[ABCHLNSU]|HH|LL|(?i:high|low|normal|abnormal|caution|"
    r"critical|severe|alert|alarm|marginal))[)\]]?)$"
)
# Days as a spreadsheet counts them, from 30 December 1899; 2000 to 2099, our choice.
_SERIAL, _SERIALS = re.compile(r"^\d{5}(\.\d+)?$"), range(36526, 73051)
_DAY_ZERO = date(1899, 12, 30)


def figure(cell: str, decimal: str) -> str:
    """A figure as the program writes it: a decimal point, no thousands; words as they are.

    >>> figure("1.250,5", "comma"), figure("< 1,250", "point"), figure("trace", "point")
    ('1250.5', '<1250', 'trace')
    >>> figure("1.15E+03", "point")
    '1150'
    """
    said = cell.strip()
    if said.lower() in NOTHING:
        return ""
    found = _NUMBER.match(said)
    if found is None:
        if re.search(r"\d", said) and said.lower() not in WORDS:
            raise BadCell(f"{cell!r} is no figure", "write the figure, or leave the cell empty")
        return said
    if re.match(r"[-–/].*\d", found["rest"].strip()):
        raise BadCell(f"{cell!r} holds more than one figure", "write the figure of one sample")
    number = found["number"].strip()
    if _APART.search(number) and not _THOUSANDS.fullmatch(number):
        raise BadCell(f"{cell!r} holds more than one figure", "write the figure of one sample")
    number = _APART.sub("", number)
    drop, mark = (".", ",") if decimal == "comma" else (",", ".")
    if drop in number and not re.fullmatch(rf"-?\d{{1,3}}(\{drop}\d{{3}})+(\{mark}\d+)?", number):
        raise BadCell(
            f"{cell!r} is no number with {mark!r} as its decimal mark",
            "check how decimals are written",
        )
    number = number.replace(drop, "").replace(mark, ".")
    if found["power"]:
        try:
            number = f"{float(number + found['power']):.10g}"
        except ValueError as error:
            raise BadCell(f"{cell!r} is no number", "write its digits") from error
    rest = found["rest"].strip()
    sign = {"≤": "<", "≥": ">"}.get(found["sign"], found["sign"])
    return f"{sign}{number}{' ' if rest and rest != '%' else ''}{rest}"


def unmarked(cell: str, column: str) -> tuple[str, str]:
    """A figure without what the laboratory set beside it to judge it, and that mark; a letter that
    is a unit of the figure is none.

    >>> unmarked("25 H", "Cu_ppm"), unmarked("*14", "Fe_ppm"), unmarked("215 C", "flash_C")
    (('25', 'H'), ('14', '*'), ('215 C', ''))
    """
    said = cell.strip()
    if ahead := _AHEAD.match(said):
        return said[ahead.end() :], ahead[0].strip()
    behind = _BEHIND.search(said)
    if behind is None:
        return said, ""
    mark = behind[1]
    unit = unit_of(f"°{mark}") if column == "flash_C" else unit_of(mark)
    if unit and fits(column, unit):
        return said, ""
    return said[: behind.start()].strip(), mark.strip("()[]")


def apart(said: str) -> tuple[str, str]:
    """A figure and the unit written behind it, "" where none is.

    >>> apart("400 ppm"), apart("< 0.05%"), apart("trace"), apart("14")
    (('400', 'ppm'), ('<0.05', '%'), ('trace', ''), ('14', ''))
    """
    found = _NUMBER.match(said.strip())
    unit = unit_of(found["rest"]) if found and found["rest"].strip() else None
    if found is None or unit is None:
        return said, ""
    return f"{found['sign']}{found['number'].strip()}", unit


def day(cell: str, order: str) -> str:
    """A day as ISO. Raises BadCell.

    >>> day("3/4/2026", "day_first"), day("3/4/26", "month_first"), day("4. März 2026", "iso")
    ('2026-04-03', '2026-03-04', '2026-03-04')
    >>> day("2026/03/04 08:30", ""), day("46085", ""), day("26-10-23", "iso")
    ('2026-03-04', '2026-03-04', '2026-10-23')
    """
    said = cell.strip()
    if said.lower() in NOTHING:
        return ""
    if _SERIAL.match(said) and int(float(said)) in _SERIALS:
        return (_DAY_ZERO + timedelta(days=int(float(said)))).isoformat()
    parts = [p for p in re.split(r"[\s/.\-,T]+", said) if p][:3]
    try:
        if re.match(r"^\d{4}[\s/.\-]", said):
            y, m, d = (int(_MONTHS.get(p.lower(), p)) for p in parts)
        elif re.fullmatch(r"\d{8}", said):
            y, m, d = int(said[:4]), int(said[4:6]), int(said[6:])
        elif any(p.lower() in _MONTHS for p in parts):
            m = next(_MONTHS[p.lower()] for p in parts if p.lower() in _MONTHS)
            numbers = [int(p) for p in parts if p.lower() not in _MONTHS]
            d, y = (numbers[1], numbers[0]) if numbers[0] > 31 else (numbers[0], numbers[1])
        else:
            a, b, y = (int(p) for p in parts)
            if order == "iso":
                a, y = y, a
            d, m = (b, a) if order == "month_first" else (a, b)
        return date(y + 2000 if y < 100 else y, m, d).isoformat()
    except (ValueError, IndexError) as error:
        raise BadCell(
            f"{cell!r} is not a day", "write such as 2026-02-28, or choose how days are written"
        ) from error


def name(text: str) -> str:
    """A text that can be a name.

    >>> name("B/17 #2")
    'B-17 -2'
    """
    return re.sub(r"[/\\?#]", "-", text)[:NAME].strip()


def one_days(cells: Sequence[str]) -> list[str]:
    """The days of a line that can be no others, as ISO: together they may settle their order.

    >>> one_days(["26/01/2026", "04/01/2026"]), one_days(["03/04/2026"]), one_days(["14"])
    (['2026-01-26', '2026-01-04'], [], [])
    """
    looks = [c for c in cells if re.search(r"\d{4}|\d\d$", c) and re.search(r"[\s/.\-]", c.strip())]
    read: dict[str, list[str]] = {}
    for order in ("day_first", "month_first"):
        try:
            read[order] = [day(c, order) for c in looks]
        except BadCell:
            continue
    found = list(read.values())
    return found[0] if found and all(x == found[0] for x in found) else []
