"""What stands between a page somewhere on the web and this program on loopback."""

import hashlib
import re
import secrets
from base64 import b64encode
from collections.abc import Awaitable, Callable
from datetime import timedelta
from pathlib import Path
from urllib.parse import urlsplit

from fastapi import Request, Response

COOKIE = "keen_session"  # followed by the mark of the installation
LASTS = timedelta(days=30)  # a session; our choice
HOSTS = {"127.0.0.1", "localhost", "[::1]"}
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


HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "geolocation=(), microphone=(), payment=(), usb=()",
}
Next = Callable[[Request], Awaitable[Response]]


def guard(
    policy: str,
    refuse: Callable[[str], Response],
    unexpected: Callable[[Request, Exception], Response],
) -> Callable[[Request, Next], Awaitable[Response]]:
    """Middleware: refuse foreign hosts and pages, answer what nobody foresaw, and put the security
    headers on every answer, also those."""

    async def middleware(request: Request, call_next: Next) -> Response:
        why = refusal(request)
        if why is not None:
            response = refuse(f"{why[0].upper()}{why[1:]}.")
        else:
            try:
                response = await call_next(request)
            except Exception as error:
                response = unexpected(request, error)
        response.headers["Content-Security-Policy"] = policy
        for name, value in HEADERS.items():
            response.headers[name] = value
        if request.url.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    return middleware
