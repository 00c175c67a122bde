"""What is answered of an open job: a module a stage, a function a question. Heavy: loaded by calculators only."""

from heathrise.work.answers import air, assessment, brief, links, network, order, papers, plan, ports, runs  # noqa: F401
from heathrise.work.answers.registry import ANSWERS, Answer

__all__ = ["ANSWERS", "Answer"]
