"""Trust at the door: loopback hosts only, writes from our own pages only, a strict policy."""

import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, abort, g, request

LOOPBACK = {"127.0.0.1", "localhost", "::1"}
_WRITES = {"POST", "PUT", "PATCH", "DELETE"}


def nonce() -> str:
    """Return this response's nonce for styles."""
    if "nonce" not in g:
        g.nonce = secrets.token_urlsafe(16)
    return str(g.nonce)


def _policy() -> str:
    return "; ".join(
        (
            "default-src 'self'",
            f"style-src 'self' 'nonce-{nonce()}'",
            "img-src 'self' data: blob:",
            "object-src 'none'",
            "base-uri 'none'",
            "form-action 'self'",
            "frame-ancestors 'none'",
        )
    )


def _check_host() -> None:
    """Refuse names that are not this machine's: until accounts come it serves itself alone."""
    if urlsplit(f"//{request.host}").hostname not in LOOPBACK:
        abort(403)


def _check_origin() -> None:
    """Refuse writes that another site's page sends."""
    if request.method not in _WRITES:
        return
    origin = request.headers.get("Origin")
    if origin is not None and urlsplit(origin).netloc != request.host:
        abort(403)
    if request.headers.get("Sec-Fetch-Site", "same-origin") not in ("same-origin", "none"):
        abort(403)


def register(app: Flask) -> None:
    """Put the guard before every request and the policy on every response."""

    @app.before_request
    def _before() -> None:
        _check_host()
        _check_origin()

    @app.after_request
    def _after(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", _policy())
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response
