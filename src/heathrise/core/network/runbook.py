"""The run book: what is done in which order until the system is on, and why in that order.

The steps stand in the library's run_book.toml; which of them a job takes, and with which words, is told here.
"""

from heathrise.core.cabling.ends import hung_on
from heathrise.core.job import AccessPoint, FixedAddress, Job, Network, Walk
from heathrise.core.library import library
from heathrise.core.library.items import StepWhere
from heathrise.core.network.composing import kind_of, managed_devices
from heathrise.core.network.hours import clock, quiet_hour, update_hour
from heathrise.core.sums import Noun


class RunStep(Noun):
    """One step: when, what is done, why then."""

    code: str
    where: StepWhere
    text: str
    why: str


class RunBook(Noun):
    """All steps, in order."""

    steps: tuple[RunStep, ...]


def run_book(job: Job) -> RunBook:
    """Return the steps that bring a job's network on."""
    has, words = _has(job), _words(job)
    steps = []
    for code, step in library().run_book.items():
        if step.only is None or step.only in has:
            on_site = step.where == "bench" and job.practice.preparation == "site"
            where: StepWhere = "site" if on_site else step.where
            steps.append(RunStep(code=code, where=where, text=step.text.format(**words), why=step.why))
    # What is prepared on site comes after what is done before, as it stands; the order of the file is the order.
    return RunBook(steps=tuple(steps))


def _has(job: Job) -> frozenset[str]:
    """Return what of a step's conditions holds."""
    kinds = {kind_of(job, thing) for thing in managed_devices(job)}
    holds = {
        job.brief.internet.addressing: job.brief.internet.service != "none",
        "kept": any(item.serves for item in job.brief.kept),
        "gateway": "gateway" in kinds,
        "wireless": any(point.id in hung_on(job) for point in job.of(AccessPoint)),
        "fixed": bool(job.of(FixedAddress)),
        "points": bool(job.of(AccessPoint)),
        "guest": any(network.purpose == "guest" for network in job.of(Network)),
        "walks": bool(job.of(Walk)),
        f"updates-{job.practice.updates}": True,
        "fairness-off": not job.practice.airtime_fairness,
    }
    return frozenset(name for name, true in holds.items() if true)


def _words(job: Job) -> dict[str, str]:
    """Return the words that steps are filled in with."""
    kinds = [kind_of(job, thing) for thing in managed_devices(job)]
    local = job.practice.account == "local"
    hung = [point.label for point in job.of(AccessPoint) if point.id in hung_on(job)]
    return {
        "owner": "the client's name, a local administrator beside it" if local else "the client's name",
        "kept": str(sum(item.count for item in job.brief.kept if item.serves)),
        "switches": str(kinds.count("switch")),
        "points": str(kinds.count("access-point")),
        "wireless": ", ".join(hung),
        "fixed": str(len(job.of(FixedAddress))),
        "quiet": clock(quiet_hour(job.site)),
        "updates": clock(update_hour(job.site)),
    }
