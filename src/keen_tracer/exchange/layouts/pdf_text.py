"""The text of a laboratory's report in PDF, line by line with its columns apart. Only what has text
in it: a scan is a picture, and guessing figures from a picture is not reading."""

from collections.abc import Iterator, Sequence
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING, NamedTuple

from ..cells import BadCell

if TYPE_CHECKING:
    from pdfplumber.page import Page

WITHIN_A_CELL = 0.42  # of the height of its letters is a space within a cell at most; our choice
SAME_LINE = 0.25  # of the height of a line from its foot its middle may lie; our choice
PAGES = 20  # of one report; our choice
LETTERS = 60_000  # of its text; our choice, as much as may be pasted


class Word(NamedTuple):
    """A word with its place on the page [points]."""

    text: str
    left: float
    right: float
    top: float
    bottom: float


def _words(page: "Page") -> list[Word]:
    found = page.extract_words(x_tolerance_ratio=0.15, y_tolerance=2, keep_blank_chars=False)
    return [Word(w["text"], w["x0"], w["x1"], w["top"], w["bottom"]) for w in found]


def lines_of(words: Sequence[Word]) -> list[str]:
    """The lines of a page by where its words stand: one space between the words of a cell, two or
    more between cells, and each cell about as far to the right as on the page.

    >>> iron = [Word("Iron", 0, 20, 0, 10), Word("(Fe)", 23, 40, 0, 10), Word("14", 46, 56, 0, 10)]
    >>> lines_of(iron)
    ['Iron (Fe)  14']
    """
    if not words:
        return []
    wide = median((w.right - w.left) / len(w.text) for w in words)
    out: list[str] = []
    for line in _by_line(words):
        said, right = "", 0.0
        for w in line:
            if said and w.left - right <= WITHIN_A_CELL * (w.bottom - w.top):
                said += f" {w.text}"
            else:
                at = round(w.left / wide) if wide > 0 else 0
                said = said.ljust(max(at, len(said) + 2 if said else 0)) + w.text
            right = w.right
        out.append(said.strip())
    return out


def _by_line(words: Sequence[Word]) -> Iterator[list[Word]]:
    """The words of each line from left to right, the lines from the top."""
    line: list[Word] = []
    for w in sorted(words, key=lambda w: ((w.top + w.bottom) / 2, w.left)):
        middle = (w.top + w.bottom) / 2
        if line and middle > line[0].bottom - SAME_LINE * (line[0].bottom - line[0].top):
            yield sorted(line, key=lambda w: w.left)
            line = []
        line.append(w)
    yield sorted(line, key=lambda w: w.left)


def pdf_text(path: Path) -> str:
    """The text of a PDF, top to bottom, with at least two spaces between columns.

    Raises BadCell, in words, where it is no PDF, is locked, is too long or has no text in it.
    """
    import pdfplumber
    from pdfminer.pdfdocument import PDFEncryptionError, PDFPasswordIncorrect
    from pdfplumber.utils.exceptions import PdfminerException

    with path.open("rb") as head:
        if head.read(5) != b"%PDF-":
            raise BadCell("this is no PDF", "choose the report as the laboratory sent it")
    try:
        with pdfplumber.open(path) as document:
            if len(document.pages) > PAGES:
                raise BadCell(
                    f"it has {len(document.pages)} pages", f"a report has {PAGES} at most; split it"
                )
            lines = [line for page in document.pages for line in lines_of(_words(page))]
    except BadCell:
        raise
    except (PDFPasswordIncorrect, PDFEncryptionError) as error:
        raise BadCell("it is locked with a password", "save it without one") from error
    except (PdfminerException, ValueError, TypeError, KeyError, IndexError, RecursionError) as bad:
        if isinstance(bad.__cause__ or bad, PDFPasswordIncorrect | PDFEncryptionError) or any(
            isinstance(x, PDFPasswordIncorrect) for x in bad.args
        ):
            raise BadCell("it is locked with a password", "save it without one") from bad
        raise BadCell("it cannot be read as a PDF", "ask for it again, or type it") from bad
    if not lines:
        raise BadCell(
            "there is no text in it: it is a picture of a report",
            "type the figures, or ask the laboratory for a file",
        )
    said = "\n".join(lines)
    if len(said) > LETTERS:
        raise BadCell(f"it has {len(said)} letters", "one report at a time")
    return said
