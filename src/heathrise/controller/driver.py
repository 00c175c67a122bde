"""What a driver of a controller can be asked, and how it refuses.

A new driver is one module with a class that answers `Driver`, and one line in `registry`. It does one thing at a time
and holds nothing between two requests; whoever asks keeps what was done. Nothing here writes a secret anywhere.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, Protocol

from heathrise.core.network.held import PushStep
from heathrise.core.network.live import Live
from heathrise.core.network.settings import Settings
from heathrise.core.sums import Noun


class ControllerError(Exception):
    """A controller did not do what it was asked; the message says what happened, without any secret."""


class NoAnswer(ControllerError):
    """It did not answer, or not in time: whether it did what it was asked is not known."""


class Garbled(ControllerError):
    """It answered something that no controller answers."""


class SignInRefused(ControllerError):
    """It does not know the account, or the secret is wrong."""


class Refused(ControllerError):
    """It understood and will not; nothing was changed by what was asked."""


class ChangedMeanwhile(ControllerError):
    """Somebody else changed its settings since they were read; nothing was changed by what was asked."""


@dataclass(frozen=True)
class Door:
    """Where a controller is, and how to get in. Its words never show the secret."""

    address: str
    account: str
    secret: str = field(repr=False)


@dataclass(frozen=True)
class Told:
    """What a step needs to be told: the whole plan, serials by the drawing's labels, passphrases by name, the
    revision the settings were last seen at.
    """

    plan: Settings
    serials: Mapping[str, str]
    revision: str
    passphrases: Mapping[str, str] = field(repr=False, default_factory=dict)


class Outcome(Noun):
    """What became of a step: done, or under way and to be asked again. `revision` is that of the settings now."""

    state: Literal["done", "waiting"]
    words: str
    revision: str


class LogLine(Noun):
    """One line of a controller's log: when (since 1970, by its clock), of which unit, in words."""

    at_s: float
    serial: str
    words: str
    grave: bool


class Person(Noun):
    """Somebody's phone: where it is taken to be, on which storey by number, at which unit ("" for none)."""

    x_m: float
    y_m: float
    storey: int
    serial: str


class Driver(Protocol):
    """A controller that is read and set. Everything may raise ControllerError."""

    def read(self) -> Live:
        """Return everything, at one moment."""

    def act(self, step: PushStep, told: Told) -> Outcome:
        """Do one step, or say that it is under way; asked again it goes on, and does nothing twice."""

    def backup(self) -> bytes:
        """Return every setting, secrets too, in the controller's own form."""

    def restore(self, kept: bytes) -> str:
        """Put a backup back; return the revision of the settings."""

    def blink(self, serial: str, on: bool) -> None:
        """Let a unit blink, or stop."""

    def has_passphrase(self, name: str, passphrase: str) -> bool:
        """Return whether a name has this passphrase."""

    def log(self) -> tuple[LogLine, ...]:
        """Return the newest lines of its log, oldest first."""

    def people(self) -> tuple[Person, ...]:
        """Return where phones are."""
