"""HTML of our own drawn as PDF, by a process of its own. Nothing is fetched but the font that ships
with the pages.

The package that draws lets truncated pictures pass in the whole process it is loaded in: it is
never loaded where photographs are taken in (`printing.py` starts it).
"""

import os
import resource
import signal
import socket
import sys
from pathlib import Path

from weasyprint import HTML
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

from .printing import DRAWN


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


def _answer(asked: socket.socket) -> None:
    """What a child does: it reads one sheet and answers with a PDF or with what went wrong.

    The first line of a sheet is the seconds it may take and the path of the font, the rest HTML.
    """
    with asked.makefile("rb") as sheet:
        first, _, html = sheet.read().decode().partition("\n")
    longest_s, _, font = first.partition(" ")
    most = int(longest_s)
    resource.setrlimit(resource.RLIMIT_CPU, (most, most))  # ends this process, whatever it does
    try:
        said = DRAWN + pdf_of(html, Path(font) if font else None)
    except BaseException as error:  # a file it must not fetch is no Exception to the package
        said = f"{type(error).__name__}: {error}".encode()
    asked.sendall(said)


def main() -> None:
    """Ends when the program that started it is there no more. One sheet a child: what a sheet
    breaks is gone with it."""
    pdf_of("<p>Fonts and styles are read here, once for all children.</p>", None)
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # children that ended are not waited for
    with socket.socket(fileno=int(sys.argv[1])) as control:
        while handed := socket.recv_fds(control, 1, 1)[1]:
            with socket.socket(fileno=handed[0]) as asked:
                if os.fork() == 0:
                    try:
                        control.close()
                        _answer(asked)
                    finally:
                        os._exit(0)  # whatever happened: never back into the loop


if __name__ == "__main__":
    main()
