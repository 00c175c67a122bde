"""All ways by which data may reach a thing."""

from heathrise.core.joining.choosing import chosen
from heathrise.core.joining.derived import case_of, ways_to
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import SuggestionAnswer, WayChosen, WaysAsked
from heathrise.work.open_job import OpenJob


@answers("links.ways", WaysAsked)
def ways(opened: OpenJob, asked: WaysAsked) -> Answer:
    """The ways to one thing, the best first."""
    memo = opened.memo()
    return in_json(ways_to(memo.look, asked.to), memo.revision)


@answers("links.choose", WayChosen)
def choose(opened: OpenJob, asked: WayChosen) -> Answer:
    """What puts a way into the job; the person sends it as an edit."""
    memo = opened.memo()
    found = chosen(case_of(memo.look, asked.to), asked.way, new_id)
    return in_json(SuggestionAnswer(operations=found), memo.revision)
