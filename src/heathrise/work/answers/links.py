"""All ways by which data may reach a thing."""

from heathrise.core.joining.derived import ways_to
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import WaysAsked
from heathrise.work.open_job import OpenJob


@answers("links.ways", WaysAsked)
def ways(opened: OpenJob, asked: WaysAsked) -> Answer:
    """The ways to one thing, the best first."""
    memo = opened.memo()
    return in_json(ways_to(memo.look, asked.to), memo.revision)
