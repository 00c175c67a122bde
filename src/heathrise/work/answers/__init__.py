"""What is answered of an open job: a module a stage, a function a question. Heavy: loaded by calculators only."""

from heathrise.work.answers import (  # noqa: F401
    air,
    assessment,
    brief,
    fit,
    links,
    network,
    order,
    papers,
    plan,
    ports,
    prove,
    runs,
)
from heathrise.work.answers.registry import ANSWERS, Answer

__all__ = ["ANSWERS", "Answer"]
