"""Questions by name, each with the noun it comes as and the function that answers it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, NamedTuple, TypeVar

from heathrise.core.sums import Noun
from heathrise.work.open_job import OpenJob

A = TypeVar("A", bound=Noun)


@dataclass(frozen=True)
class Answer:
    """What goes back to the browser: bytes of a kind, of a revision, under a name when it is a file."""

    body: bytes
    revision: int
    kind: str = "application/json"
    file_name: str = ""


class Answering(NamedTuple):
    """How a question is understood and answered."""

    asked: type[Noun]
    answer: Callable[[OpenJob, Any], Answer]


ANSWERS: dict[str, Answering] = {}


def answers(name: str, asked: type[A]) -> Callable[[Callable[[OpenJob, A], Answer]], Callable[..., Answer]]:
    """Register the function that answers a question."""

    def keep(function: Callable[[OpenJob, A], Answer]) -> Callable[..., Answer]:
        ANSWERS[name] = Answering(asked, function)
        return function

    return keep


def in_json(noun: Noun, revision: int) -> Answer:
    """Return a noun as an answer."""
    return Answer(noun.model_dump_json().encode(), revision)
