"""Which nouns answers are made of, named by module and class.

The web process hands on what calculators wrote and needs none of these nouns, nor the compiled code their
modules pull in: they are loaded only where the OpenAPI document is written (`tools.drift`).
"""

from importlib import import_module
from typing import Any

_documenting = False


def document() -> None:
    """From now on load what answers are made of: for writing the OpenAPI document."""
    global _documenting  # noqa: PLW0603
    _documenting = True


def answers_with(name: str, status: int = 200) -> dict[int | str, Any]:
    """Return the responses of a handler that answers with a noun, as "package.module:Class"."""
    if not _documenting:
        return {}
    module, _, noun = name.partition(":")
    return {status: getattr(import_module(f"heathrise.{module}"), noun)}
