"""The text of a laboratory's report in PDF, line by line with its columns apart. Only what has text
in it: a scan is a picture, and guessing figures from a picture is not reading."""

from pathlib import Path

from ..cells import BadCell

PAGES = 20  # of one report; our choice
LETTERS = 60_000  # of its text; our choice, as much as may be pasted


def pdf_text(path: Path) -> str:
    """What stands in a PDF, top to bottom, with at least two spaces between columns.

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
            text = "\n".join(page.extract_text(layout=True) or "" for page in document.pages)
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
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not lines:
        raise BadCell(
            "there is no text in it: it is a picture of a report",
            "type the figures, or ask the laboratory for a file",
        )
    said = "\n".join(lines)
    if len(said) > LETTERS:
        raise BadCell(f"it has {len(said)} letters", "one report at a time")
    return said
