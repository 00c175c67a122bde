"""Networks as the planner proposes them."""

from heathrise.core.network.defaults import default_networks
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import Nothing, SuggestionAnswer
from heathrise.work.open_job import OpenJob


@answers("network.suggest", Nothing)
def suggest_networks(opened: OpenJob, _: Nothing) -> Answer:
    """The networks a job of this kind starts with, clear of the service's subnet."""
    kept = opened.newest()
    return in_json(SuggestionAnswer(operations=default_networks(kept.job, new_id)), kept.revision)
