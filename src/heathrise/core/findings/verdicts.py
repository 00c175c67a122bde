"""Every rule run, each verdict a derived value of its own, and what is said when one cannot be run."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import structlog

from heathrise.core.cabling.derived import run_ids, run_plan, runs
from heathrise.core.deriving import Broken, Look, Superseded, derived
from heathrise.core.findings.registry import COULD_NOT_RUN, ORDER, rules
from heathrise.core.job import Acceptance
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.links.bridges import bridges
from heathrise.core.links.mains import mains_links
from heathrise.core.links.meshing import meshes
from heathrise.core.network.derived import nets, port_profiles
from heathrise.core.ordering.derived import kit
from heathrise.core.power.derived import feed_plan, feeds
from heathrise.core.proving.derived import proofs
from heathrise.core.racks.derived import all_standby, patches, rack_plans, recording
from heathrise.core.radio.air import air, ordered_spaces, space_noise, space_score
from heathrise.core.rule import Finding, Observation, Rule, finding_of
from heathrise.core.site.derived import brief, building
from heathrise.core.switching.derived import ports
from heathrise.core.switching.uplinks import uplinks

log = structlog.get_logger(__name__)


# So many are named in one sentence.
_NAMED = 4


@dataclass(frozen=True)
class Fact:
    """What rules may look at: how it is derived, and the stage it belongs to."""

    ask: Callable[[Look], Any]
    stage: str


FACTS: dict[str, Fact] = {
    "job": Fact(job_of, "plan"),
    "building": Fact(building, "plan"),
    "brief": Fact(brief, "brief"),
    "air": Fact(air, "air"),
    "bridges": Fact(bridges, "links"),
    "meshes": Fact(meshes, "links"),
    "mains": Fact(mains_links, "links"),
    "runs": Fact(runs, "runs"),
    "feeds": Fact(feeds, "ports"),
    "ports": Fact(ports, "ports"),
    "uplinks": Fact(uplinks, "ports"),
    "racks": Fact(rack_plans, "ports"),
    "alone": Fact(all_standby, "ports"),
    "recording": Fact(recording, "ports"),
    "patches": Fact(lambda look: patches(look).racks, "ports"),
    "nets": Fact(nets, "network"),
    "carrying": Fact(port_profiles, "network"),
    "kit": Fact(kit, "order"),
    "proofs": Fact(proofs, "prove"),
}


@dataclass(frozen=True)
class Subjects:
    """What rules may judge one by one: which there are, and each of them (None: nothing to judge)."""

    ids: Callable[[Look], Iterable[str]]
    one: Callable[[Look, str], Any]


SUBJECTS: dict[str, Subjects] = {
    "run": Subjects(run_ids, run_plan),
    "feed": Subjects(run_ids, feed_plan),
    "score": Subjects(ordered_spaces, space_score),
    "clear": Subjects(ordered_spaces, space_noise),
}


def _rule(rule_id: str) -> Rule:
    return next(rule for rule in rules() if rule.id == rule_id)


@derived
def verdict(look: Look, rule_id: str) -> tuple[Finding, ...]:
    """What one rule says of the whole job."""
    rule = _rule(rule_id)
    return tuple(rule.findings({name: FACTS[name].ask(look) for name in rule.looks_at}))


@derived
def verdict_of(look: Look, rule_id: str, subject_id: str) -> tuple[Finding, ...]:
    """What one rule says of one subject."""
    rule = _rule(rule_id)
    subject = SUBJECTS[rule.per].one(look, subject_id)
    if subject is None:
        return ()
    facts = {name: FACTS[name].ask(look) for name in rule.looks_at if name != rule.per}
    return tuple(rule.findings({**facts, rule.per: subject}))


def judged(look: Look) -> tuple[Finding, ...]:
    """Return every finding, accepted ones with their reason. What breaks is a finding itself."""
    said: list[Finding] = []
    broken: dict[int, Finding] = {}
    for name, fact in FACTS.items():
        try:
            value = fact.ask(look)
        except Superseded:
            raise
        except Exception as error:
            broken[id(error)] = _stage_broke(name, fact.stage, error)
            continue
        for some in _by_cause(getattr(value, "broken", ())):
            broken[id(some[0].error)] = _subjects_broke(look, some, fact.stage)
    for rule in rules():
        for ask in _asks(look, rule, broken):
            try:
                said += ask()
            except Superseded:
                raise
            except Exception as error:
                if id(error) not in broken:
                    broken[id(error)] = _rule_broke(rule, error)
    reasons = {a.finding_key: a.reason for a in job_of(look).of(Acceptance)}
    found = [
        finding.model_copy(update={"accepted": reasons[finding.key]}) if finding.key in reasons else finding
        for finding in (*broken.values(), *said)
    ]
    stages = list(library().stages)
    found = [finding for finding in found if not _is_moot(finding, found)]
    return tuple(sorted(found, key=lambda one: (ORDER[one.severity], stages.index(one.stage))))


def _is_moot(finding: Finding, said: list[Finding]) -> bool:
    """Say whether what is advised makes no odds while a graver thing is wrong with the same subject.

    Which rule silences which stands with the rule, as `moot_by`.
    """
    by = library().rules[finding.rule].moot_by
    return bool(by) and any(
        other.rule in by and other.accepted is None and set(other.subject_ids) & set(finding.subject_ids)
        for other in said
    )


def _asks(look: Look, rule: Rule, broken: dict[int, Finding]) -> Iterable[Callable[[], tuple[Finding, ...]]]:
    """Yield the questions a rule comes down to: one of the job, or one of each subject."""
    if rule.per == "job":
        yield lambda: verdict(look, rule.id)
        return
    try:
        subjects = tuple(SUBJECTS[rule.per].ids(look))
    except Superseded:
        raise
    except Exception as error:
        if id(error) not in broken:
            broken[id(error)] = _rule_broke(rule, error)
        return
    for subject_id in subjects:
        yield lambda subject_id=subject_id: verdict_of(look, rule.id, subject_id)  # type: ignore[misc]


def _stage_broke(name: str, stage: str, error: Exception) -> Finding:
    log.error("stage_broke", stage=stage, fact=name, error=_words(error))
    words = f"{library().stages[stage].name}: {name} could not be worked out ({_words(error)})."
    found = Observation(
        subject_ids=(name,),
        subject=library().stages[stage].name,
        text=words,
        advice="Everything else stands as shown. Undo the last edit of what it names, or send us the job file.",
    )
    return finding_of(COULD_NOT_RUN, found).model_copy(update={"stage": stage})


def _by_cause(lost: Iterable[Broken]) -> list[list[Broken]]:
    """Return what broke, together where one error did it."""
    found: dict[int, list[Broken]] = {}
    for one in lost:
        found.setdefault(id(one.error), []).append(one)
    return list(found.values())


def _subjects_broke(look: Look, lost: list[Broken], stage: str) -> Finding:
    error = lost[0].error
    log.error("subjects_broke", of=lost[0].fn, subjects=len(lost), error=_words(error))
    elements = [look.source.by_id.get(one.subject) for one in lost]
    names = [e.label if e is not None else one.subject for e, one in zip(elements, lost, strict=True)]
    more = f" and {len(names) - _NAMED} more" if len(names) > _NAMED else ""
    found = Observation(
        subject_ids=tuple(one.subject for one in lost),
        subject=names[0],
        text=f"{', '.join(names[:_NAMED])}{more} could not be worked out: {_words(error)}.",
        advice="Change what it names. Everything else stands as shown.",
    )
    return finding_of(COULD_NOT_RUN, found).model_copy(update={"stage": stage})


def _rule_broke(rule: Rule, error: Exception) -> Finding:
    log.error("rule_broke", rule=rule.id, error=_words(error))
    info = library().rules[rule.id]
    found = Observation(
        subject_ids=(rule.id,),
        subject=info.title,
        text=f"The check “{info.title}” failed to run ({_words(error)}), so nothing is known of it.",
        advice="Everything else stands as shown. Send us the job file.",
    )
    return finding_of(COULD_NOT_RUN, found).model_copy(update={"stage": info.stage})


def _words(error: Exception) -> str:
    return str(error) or type(error).__name__
