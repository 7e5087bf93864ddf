"""HTML of our own drawn as PDF, by a process of its own. Nothing is fetched but the font that ships
with the pages.

The package that draws lets truncated pictures pass in the whole process it is loaded in: it is
never loaded where photographs are taken in (`printing.py` starts it).
"""

import sys
from pathlib import Path

from weasyprint import HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse


class NothingFetched(Exception):
    """A label asked for something outside the application."""


# As photographs are kept: made anew by ourselves when they came in.
OUR_PICTURES = "data:image/jpeg;base64,"


class OnlyTheFont(URLFetcher):  # type: ignore[misc]  # the package carries no types
    """Hands out the one font file and pictures that stand in the document itself, and refuses
    everything else."""

    def __init__(self, font: Path | None):
        super().__init__(fail_on_errors=True)
        self._font = font

    def fetch(self, url: str, headers: dict[str, str] | None = None) -> URLFetcherResponse:
        if url.startswith(OUR_PICTURES):
            return super().fetch(url, headers)
        if self._font is None or url != self._font.as_uri():
            raise NothingFetched(url)
        return URLFetcherResponse(url, self._font.read_bytes(), {"Content-Type": "font/woff2"})


def pdf_of(html: str, font: Path | None) -> bytes:
    """The pages of `html` as PDF. Raises NothingFetched where it asks for any file but `font`."""
    document = HTML(string=html, url_fetcher=OnlyTheFont(font))
    return bytes(document.write_pdf(font_config=FontConfiguration(), pdf_tags=True))


def main() -> None:
    """HTML comes on standard input, the font's path as argument, the PDF leaves on standard
    output."""
    font = Path(sys.argv[1]) if len(sys.argv) > 1 else None
    sys.stdout.buffer.write(pdf_of(sys.stdin.read(), font))


if __name__ == "__main__":
    main()
