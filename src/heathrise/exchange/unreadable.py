"""What a reader says when a file cannot be used, and how it says how far it is."""

from collections.abc import Callable

# Told a share from 0 to 1 and what is being done.
Progress = Callable[[float, str], None]


class Unreadable(ValueError):
    """A file that cannot be used: the message says what is wrong with it and what to send instead."""


def quiet(_share: float, _doing: str) -> None:
    """Progress that nobody watches."""
