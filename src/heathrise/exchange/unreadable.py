"""What a reader says when a file cannot be used, and how it says how far it is."""

from collections.abc import Callable

# What is said of a PDF that opens to its password alone; who asks for it knows it by these words.
LOCKED = "the PDF is locked: it opens to its password alone"

# Told a share from 0 to 1 and what is being done.
Progress = Callable[[float, str], None]


class Refused(ValueError):
    """Something sent that cannot be used: what is wrong with it, and what to do instead, sentences without their ends."""

    def __init__(self, wrong: str, instead: str):
        super().__init__(f"{wrong.rstrip('.')}. {instead}.")
        self.wrong, self.instead = wrong, instead

    def __reduce__(self) -> tuple[type["Refused"], tuple[str, str]]:
        """Travel between processes with both sentences."""
        return type(self), (self.wrong, self.instead)


class Unreadable(Refused):
    """A file that cannot be read."""


class NotAPicture(Refused):
    """An upload that is no usable picture."""


def quiet(_share: float, _doing: str) -> None:
    """Progress that nobody watches."""
