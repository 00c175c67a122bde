"""Secrets are sealed before they reach the database, with a key that is not in it.

AES-256-GCM (NIST SP 800-38D), a fresh nonce each time. What a secret belongs to is sealed in with it: one cannot be
moved to another row.
"""

import base64
import contextlib
import os
import secrets
import tempfile
from pathlib import Path

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM

_KEY_BYTES, _NONCE_BYTES = 32, 12


class NoKey(Exception):
    """There is no key, or it opens nothing that was sealed; the message says what to do."""


class Sealer:
    """Seals and opens with the key of a file, which is made when it is not there."""

    def __init__(self, key_file: Path | None):
        self._file = key_file

    def _key(self) -> AESGCM:
        if self._file is None:
            raise NoKey("no key is set to seal secrets with: name a file for it in HEATHRISE_KEY_FILE")
        try:
            return AESGCM(base64.urlsafe_b64decode(self._read(self._file)))
        except (OSError, ValueError) as error:
            raise NoKey(f"the key in {self._file.name} cannot be read ({type(error).__name__})") from error

    @staticmethod
    def _read(path: Path) -> bytes:
        if not path.exists():
            # Written whole beside it first: whoever reads meanwhile finds a key or none, and the first one stays.
            with tempfile.NamedTemporaryFile(dir=path.parent) as file:
                file.write(base64.urlsafe_b64encode(secrets.token_bytes(_KEY_BYTES)))
                file.flush()
                with contextlib.suppress(FileExistsError):
                    os.link(file.name, path)
        return path.read_bytes()

    def seal(self, text: bytes, *of: str) -> bytes:
        """Return a text sealed; `of` says what it belongs to. Raises NoKey."""
        nonce = secrets.token_bytes(_NONCE_BYTES)
        return nonce + self._key().encrypt(nonce, text, _about(of))

    def open(self, sealed: bytes, *of: str) -> bytes:
        """Return what was sealed. Raises NoKey when the key is another, or it belongs to something else."""
        try:
            return self._key().decrypt(sealed[:_NONCE_BYTES], sealed[_NONCE_BYTES:], _about(of))
        except InvalidTag as error:
            raise NoKey(
                "it was sealed with another key; put the old key file back, or enter it anew"
            ) from error


def _about(of: tuple[str, ...]) -> bytes:
    return "\0".join(of).encode()
