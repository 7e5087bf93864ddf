"""Label sheets as PDF: numbered before they are printed, each with its bottle's code as a QR code.

Drawn from text of our own only: nothing is fetched, and the one font comes with the application.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from pathlib import Path

import segno

from .printing import printed

COLUMNS, ROWS = 3, 8  # 70 x 37 mm, a common sheet of labels; our choice
FONT = "atkinson-hyperlegible-next-latin-wght-normal*.woff2"
_STYLE = """
@page { size: A4; margin: 0 }
body { margin: 0; font: 9pt 'Labels', sans-serif; color: #000 }
.sheet { display: grid; grid-template-columns: repeat(3, 70mm);
  grid-template-rows: repeat(8, 37.1mm); break-after: page }
.sheet:last-child { break-after: auto }
.label { padding: 4mm 4mm 0 5mm; box-sizing: border-box; height: 37.1mm; display: flex; gap: 2.5mm }
.label svg { flex: none; width: 26mm; height: 26mm }
.label div { flex: 1; overflow: hidden }
p { margin: 0 }
.number { font-size: 17pt; font-weight: 700; line-height: 1 }
.engine { font-weight: 700; height: 5.4mm; padding-top: 1mm; overflow: hidden; white-space: nowrap }
.line { border-bottom: .3mm solid #000; height: 5.4mm; font-size: 7pt; overflow: hidden }
"""
_BAG = """
@page { size: 100mm 60mm; margin: 5mm }
body { margin: 0; font: 11pt 'Labels', sans-serif; color: #000 }
.bag { display: flex; gap: 4mm }
.bag svg { flex: none; width: 30mm; height: 30mm }
p { margin: 0 0 1mm }
p:first-child { font-size: 17pt; font-weight: 700; line-height: 1.1 }
"""


@dataclass(frozen=True, slots=True)
class Label:
    """One bottle's label; `engine` is whom the round has it for, empty on a spare one."""

    code: str
    engine: str = ""


def font_file(pages: Path) -> Path | None:
    """The font of the built pages, None when they are not built."""
    return next(iter(sorted(pages.rglob(FONT))), None)


def _one(label: Label) -> str:
    qr = segno.make(label.code, error="m", micro=False).svg_inline(border=0, omitsize=True)
    engine = (
        f'<p class="engine">{escape(label.engine)}</p>'
        if label.engine
        else '<p class="line">engine</p>'
    )
    return (
        f'<div class="label">{qr}<div><p class="number">{escape(label.code)}</p>{engine}'
        f'<p class="line">meter</p><p class="line">date</p></div></div>'
    )


def bag_label(code: str, lines: Sequence[str], font: Path | None = None) -> bytes:
    """One label for a bag of pieces, 100 x 60 mm: a QR code and lines of words, as PDF."""
    qr = segno.make(code, error="m", micro=False).svg_inline(border=0, omitsize=True)
    said = "".join(f"<p>{escape(line)}</p>" for line in lines)
    face = f"@font-face {{ font-family: 'Labels'; src: url('{font.as_uri()}') }}" if font else ""
    return printed(
        f"<meta charset=utf-8><title>Bag label</title><style>{face}{_BAG}</style>"
        f'<div class="bag">{qr}<div>{said}</div></div>',
        font,
    )


def label_sheet(labels: Sequence[Label], font: Path | None = None) -> bytes:
    """The labels on as many A4 sheets as they take, three across and eight down, as PDF."""
    per_page = COLUMNS * ROWS
    sheets = "".join(
        '<div class="sheet">' + "".join(map(_one, labels[n : n + per_page])) + "</div>"
        for n in range(0, len(labels), per_page)
    )
    face = f"@font-face {{ font-family: 'Labels'; src: url('{font.as_uri()}') }}" if font else ""

    return printed(
        f"<meta charset=utf-8><title>Bottle labels</title><style>{face}{_STYLE}</style>{sheets}",
        font,
    )
