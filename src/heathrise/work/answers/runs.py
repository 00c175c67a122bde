"""Runs and ports as the planner proposes them."""

from heathrise.core.cabling.defaults import default_runs
from heathrise.core.switching.derived import ports
from heathrise.core.switching.ports import settled
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import Nothing, SuggestionAnswer
from heathrise.work.open_job import OpenJob


@answers("runs.suggest", Nothing)
def suggest_runs(opened: OpenJob, _: Nothing) -> Answer:
    """A run to everything that has too few."""
    kept = opened.newest()
    return in_json(SuggestionAnswer(operations=default_runs(kept.job, new_id)), kept.revision)


@answers("ports.suggest", Nothing)
def suggest_ports(opened: OpenJob, _: Nothing) -> Answer:
    """Every proposed port, decided."""
    memo = opened.memo()
    operations = settled(memo.source, ports(memo.look).ports)
    return in_json(SuggestionAnswer(operations=operations), memo.revision)
