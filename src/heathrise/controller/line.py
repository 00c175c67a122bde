"""The line to a controller: JSON over HTTP, with times and sizes bounded, and every failure told apart."""

import json
from collections.abc import Mapping
from typing import Any
from urllib.parse import quote, urlsplit

import requests
from requests.adapters import HTTPAdapter
from urllib3.util.retry import Retry

from heathrise.controller.driver import ChangedMeanwhile, Garbled, NoAnswer, Refused, SignInRefused

_CONNECT_S, _READ_S = 3.0, 8.0
_MOST_BYTES = 32_000_000
# Reading is asked again when a line breaks; what changes something never is: it may have been done.
_RETRY = Retry(total=2, backoff_factor=0.2, allowed_methods=frozenset({"GET"}), status=0, redirect=0)


class Line:
    """A line to one controller. `where` is the address its paths are added to."""

    def __init__(self, where: str):
        parts = urlsplit(where)
        if parts.scheme not in ("http", "https") or not parts.hostname or parts.username:
            raise Refused(
                f"{where} is no address of a controller; write one like http://192.0.2.10/sites/school"
            )
        self._where = where.rstrip("/")
        self._session = requests.Session()
        self._session.trust_env = False
        for scheme in ("http://", "https://"):
            self._session.mount(scheme, HTTPAdapter(max_retries=_RETRY))

    def sign(self, token: str) -> None:
        """Send a token with every request from now on."""
        self._session.headers["Authorization"] = f"Bearer {token}"

    def get(self, path: str) -> Any:
        """Return what is at a path."""
        return self._ask("GET", path, None, {})

    def send(self, method: str, path: str, body: Any = None, revision: str = "") -> Any:
        """Change something; `revision` is what it is made of."""
        return self._ask(method, path, body, {"If-Match": f'"{revision}"'} if revision else {})

    def _ask(self, method: str, path: str, body: Any, headers: Mapping[str, str]) -> Any:
        try:
            with self._session.request(
                method,
                f"{self._where}/{path}" if path else self._where,
                json=body,
                headers=dict(headers),
                timeout=(_CONNECT_S, _READ_S),
                allow_redirects=False,
                stream=True,
            ) as response:
                return _taken(response)
        except (requests.Timeout, requests.ConnectionError) as error:
            raise NoAnswer(f"it does not answer ({type(error).__name__})") from error
        except requests.RequestException as error:
            raise Garbled(f"it answered what cannot be read ({type(error).__name__})") from error


def _taken(response: requests.Response) -> Any:
    body = response.raw.read(_MOST_BYTES + 1, decode_content=True)
    if len(body) > _MOST_BYTES:
        raise Garbled("it answered more than is read at once")
    if response.status_code >= 500:
        raise NoAnswer(f"it is out of order just now (HTTP {response.status_code})")
    try:
        found = json.loads(body)
    except ValueError as error:
        raise Garbled(f"it answered something that is no JSON (HTTP {response.status_code})") from error
    if response.status_code < 300:
        return found
    raise _REFUSALS.get(response.status_code, Refused)(_why(found, response.status_code))


_REFUSALS: dict[int, type[Exception]] = {401: SignInRefused, 403: SignInRefused, 412: ChangedMeanwhile}
_MOST_WORDS = 300


def _why(found: Any, status: int) -> str:
    said = found.get("error") if isinstance(found, dict) else None
    return str(said)[:_MOST_WORDS] if said else f"HTTP {status}"


def part(text: str) -> str:
    """Return a part of a path, safe to be one."""
    return quote(text, safe="")
