"""All ways by which data may reach a thing."""

from heathrise.core.edit import EditError, Put
from heathrise.core.job import Link
from heathrise.core.joining.choosing import chosen
from heathrise.core.joining.derived import case_of, ways_to
from heathrise.core.joining.hanging import mesh_of, mesh_of_all
from heathrise.core.joining.strands import strands, tagged
from heathrise.core.joining.wirings import wirings
from heathrise.core.radio.naming import namings
from heathrise.core.switching.failing import failures
from heathrise.exchange.pathprofile import read_profile
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import (
    Nothing,
    ProfileAsked,
    StrandsAsked,
    StrandTagged,
    SuggestionAnswer,
    WayChosen,
    WaysAsked,
)
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


@answers("links.failures", Nothing)
def failing(opened: OpenJob, _: Nothing) -> Answer:
    """What every single failure costs."""
    memo = opened.memo()
    return in_json(failures(memo.look), memo.revision)


@answers("links.mesh", Nothing)
def mesh(opened: OpenJob, _: Nothing) -> Answer:
    """Every point without a cable, and what it hangs on."""
    memo = opened.memo()
    return in_json(mesh_of(memo.look), memo.revision)


@answers("links.hang-all", Nothing)
def hang_all(opened: OpenJob, _: Nothing) -> Answer:
    """What hangs every point without a cable on another; the person sends it as an edit."""
    memo = opened.memo()
    return in_json(SuggestionAnswer(operations=mesh_of_all(memo.look, new_id)), memo.revision)


@answers("links.wirings", Nothing)
def wired(opened: OpenJob, _: Nothing) -> Answer:
    """Star, mixed and chain compared."""
    memo = opened.memo()
    return in_json(wirings(memo.look), memo.revision)


@answers("links.namings", Nothing)
def named(opened: OpenJob, _: Nothing) -> Answer:
    """One name or many, over the walks."""
    memo = opened.memo()
    return in_json(namings(memo.look), memo.revision)


@answers("links.strands", StrandsAsked)
def stranded(opened: OpenJob, asked: StrandsAsked) -> Answer:
    """Several services over a run."""
    memo = opened.memo()
    found = strands(memo.look, asked.run, asked.screens, asked.service_there, asked.bridges)
    return in_json(found, memo.revision)


@answers("links.tag", StrandTagged)
def tag(opened: OpenJob, asked: StrandTagged) -> Answer:
    """A managed switch at the far end of a run; the person sends it as an edit."""
    memo = opened.memo()
    return in_json(SuggestionAnswer(operations=tagged(memo.look, asked.run, new_id)), memo.revision)


@answers("links.profile", ProfileAsked)
def profile(opened: OpenJob, asked: ProfileAsked) -> Answer:
    """The path of a bridge read from text; the person sends it as an edit."""
    kept = opened.newest()
    link = kept.job.by_id.get(asked.link)
    if not isinstance(link, Link):
        raise EditError("the bridge is not there any more")
    put = Put(element=link.model_copy(update={"profile": read_profile(asked.text)}))
    return in_json(SuggestionAnswer(operations=(put,)), kept.revision)
