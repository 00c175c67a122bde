"""Runs as the planner proposes them."""

from heathrise.core.cabling.cutting import cut_lists
from heathrise.core.cabling.defaults import default_runs, one_run
from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.detour import detour
from heathrise.core.cabling.drilling import drill_list
from heathrise.core.cabling.labelling import labels_by, relabelled
from heathrise.core.cabling.proposing import made, proposals
from heathrise.core.job import Pin, Point
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import DetourAsked, LabelsAsked, Nothing, PathwayTaken, RunsAsked, SuggestionAnswer
from heathrise.work.open_job import OpenJob


@answers("runs.suggest", RunsAsked)
def suggest_runs(opened: OpenJob, asked: RunsAsked) -> Answer:
    """A run to everything that has too few, or one more to a single thing."""
    kept = opened.newest()
    found = default_runs(kept.job, new_id) if asked.to is None else one_run(kept.job, asked.to, new_id)
    return in_json(SuggestionAnswer(operations=found), kept.revision)


@answers("runs.cuts", Nothing)
def cuts(opened: OpenJob, _: Nothing) -> Answer:
    """Which run is cut from which box."""
    memo = opened.memo()
    return in_json(cut_lists(runs(memo.look).plans), memo.revision)


@answers("runs.holes", Nothing)
def holes(opened: OpenJob, _: Nothing) -> Answer:
    """What is drilled where."""
    memo = opened.memo()
    return in_json(drill_list(memo.source, runs(memo.look).plans), memo.revision)


@answers("runs.pathways", Nothing)
def pathways(opened: OpenJob, _: Nothing) -> Answer:
    """Pathways that are worth making."""
    memo = opened.memo()
    return in_json(proposals(memo.look), memo.revision)


@answers("runs.make-pathway", PathwayTaken)
def make_pathway(opened: OpenJob, asked: PathwayTaken) -> Answer:
    """What puts a proposed pathway into the job; the person sends it as an edit."""
    memo = opened.memo()
    return in_json(SuggestionAnswer(operations=made(memo.look, asked.key, new_id)), memo.revision)


@answers("runs.detour", DetourAsked)
def led(opened: OpenJob, asked: DetourAsked) -> Answer:
    """A run as it would lie if it were led through a place."""
    memo = opened.memo()
    place = Pin(storey_id=asked.storey_id, at=Point(x_m=asked.x_m, y_m=asked.y_m))
    return in_json(detour(memo.look, asked.run, place, asked.leg, asked.pin), memo.revision)


@answers("runs.labels", LabelsAsked)
def labels(opened: OpenJob, asked: LabelsAsked) -> Answer:
    """What a scheme calls every run."""
    kept = opened.newest()
    return in_json(labels_by(kept.job, asked.scheme), kept.revision)


@answers("runs.relabel", LabelsAsked)
def relabel(opened: OpenJob, asked: LabelsAsked) -> Answer:
    """Every run labelled by a scheme; the person sends it as an edit."""
    kept = opened.newest()
    return in_json(SuggestionAnswer(operations=relabelled(kept.job, asked.scheme)), kept.revision)
