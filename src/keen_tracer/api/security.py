"""The checks that keep a page somewhere on the web from using this program on loopback."""

import asyncio
import hashlib
import logging
import re
import secrets
from base64 import b64encode
from collections.abc import Awaitable, Callable
from datetime import timedelta
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import Request, Response

from .logs import Asked, asked

COOKIE = "keen_session"  # followed by the mark of the installation
LASTS = timedelta(days=30)  # a session; our choice
HOSTS = {"127.0.0.1", "localhost", "[::1]"}
log = logging.getLogger("keen_tracer")
WRITES = {"POST", "PUT", "PATCH", "DELETE"}


def new_token() -> str:
    return secrets.token_urlsafe(32)


def token_hash(token: str) -> bytes:
    """Only the hash is stored, so that a copy of the database opens no session."""
    return hashlib.sha256(token.encode()).digest()


def content_policy(index: Path) -> str:
    """The content security policy: everything from this server; the build's own inline script by
    its hash."""
    hashes = ""
    if index.exists():
        for script in re.findall(
            r"<script>(.*?)</script>", index.read_text(encoding="utf-8"), re.DOTALL
        ):
            hashes += f" 'sha256-{b64encode(hashlib.sha256(script.encode()).digest()).decode()}'"
    return (
        f"default-src 'self'; script-src 'self'{hashes}; style-src 'self' 'unsafe-inline'; img-src "
        "'self' data:; "
        "object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"
    )


def refusal(request: Request) -> str | None:
    """Why a request is refused before it is looked at, or None."""
    host = request.headers.get("host", "")
    if host.rsplit(":", 1)[0] not in HOSTS:
        return "this program answers only under its own address"
    if request.method in WRITES:
        origin, site = request.headers.get("origin"), request.headers.get("sec-fetch-site")
        if origin is not None and urlsplit(origin).netloc != host:
            return "the request comes from another page"
        if site not in (None, "same-origin", "none"):
            return "the request comes from another page"
    return None


def _pattern(request: Request) -> str:
    """The route's pattern: the path itself holds names."""
    return str(getattr(request.scope.get("route"), "path", "-"))


# Longer than the database may take over a statement; our choice. Files, pictures and archives may
# take their time.
PATIENCE_S = 35.0
PATIENT = ("/api/exchange/", "/api/export.", "/api/letters.", "/api/log/")
HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "geolocation=(), microphone=(), payment=(), usb=()",
}
Next = Callable[[Request], Awaitable[Response]]


async def _answered(
    request: Request,
    call_next: Next,
    unexpected: Callable[[Request, Exception], Response],
    slow: Callable[[], Response],
) -> Response:
    """The answer; where a page waits too long for it, that it is slow: the work itself goes on."""
    work = asyncio.ensure_future(call_next(request))
    patient = request.url.path.startswith(PATIENT)
    done, _ = await asyncio.wait({work}, timeout=None if patient else PATIENCE_S)
    if not done:
        work.add_done_callback(lambda w: w.cancelled() or w.exception())
        return slow()
    try:
        return work.result()
    except Exception as error:
        return unexpected(request, error)


def guard(
    policy: str,
    refuse: Callable[[str], Response],
    unexpected: Callable[[Request, Exception], Response],
    slow: Callable[[], Response],
) -> Callable[[Request, Next], Awaitable[Response]]:
    """Middleware: refuse foreign hosts and pages, answer what nobody foresaw, and put the security
    headers on every answer, also those."""

    async def middleware(request: Request, call_next: Next) -> Response:
        now = Asked()
        asked.set(now)
        why = refusal(request)
        if why is not None:
            response = refuse(f"{why[0].upper()}{why[1:]}.")
        else:
            response = await _answered(request, call_next, unexpected, slow)
        response.headers["Content-Security-Policy"] = policy
        now.route = _pattern(request)
        if request.method in WRITES:
            log.info("%s %s", request.method, response.status_code)
        for name, value in HEADERS.items():
            response.headers[name] = value
        if request.url.path.startswith("/api/"):
            response.headers["Cache-Control"] = "no-store"
        return response

    return middleware
