"""Each run and its tests: which record counts, what it says, and what was measured beside what was drawn."""

from collections.abc import Sequence
from typing import Literal

from heathrise.core.cabling.runs import RunPlan
from heathrise.core.job import CableTest, Configuration, Practice, Record
from heathrise.core.library import library, limit
from heathrise.core.proving.symptoms import NamedFault
from heathrise.core.proving.testing import JudgedTest, Verdict, judge
from heathrise.core.sums import Noun, Sum

CableState = Literal["pass", "marginal", "fail", "none", "other"]


class RunProof(Noun):
    """A run and what its tests say. `state` is that of the newest record that counts; "other" where there are only records of
    another configuration or class, "none" where there is none. `ended` says that both its ends are made; `apart` that
    lengths written down do not agree.
    """

    run_id: str
    label: str
    to_label: str
    cable_label: str
    category: str
    configuration: Configuration
    test_class: str
    state: CableState
    why: str
    by_word: bool
    tests: int
    test_id: str | None
    tested_by: str
    fault: NamedFault | None
    margin_sum: Sum | None
    planned_m: float
    measured_m: float | None
    length_off: bool
    apart: bool
    ended: bool
    needed: bool


def configuration_of(practice: Practice, plan: RunPlan) -> Configuration:
    """Return how a run is to be tested: by what stands at its device's end, and by what carries it."""
    if library().categories[plan.category].test_class is None:
        return "fibre link"
    return "modular-plug link" if practice.device_end == "plug" else "permanent link"


def light_limit_db(plan: RunPlan) -> float:
    """Return what light may be lost on a run: its length and a connection at both ends. [dB]

    References
    ----------
    ISO/IEC 11801-1: 0.75 dB a connection, 1 dB/km of single-mode cable.
    """
    length = limit("proving.fibre_loss_db_per_km") * plan.length_m / 1000
    return round(2 * limit("proving.connector_loss_db") + length, 3)


def counts(test: CableTest, configuration: str, test_class: str) -> bool:
    """Return whether a test is one of what was planned: another configuration or class says something else."""
    return test.configuration == configuration and (test.test_class or test_class) == test_class


def tests_in(records: Sequence[Record]) -> list[tuple[Record, CableTest]]:
    """Return the records that are tests, the newest first."""
    tests = [(one, one.measured) for one in records if isinstance(one.measured, CableTest)]
    return sorted(tests, key=lambda one: (one[0].when, one[0].id), reverse=True)


def judged_for(plan: RunPlan, practice: Practice, test: CableTest) -> JudgedTest:
    """Return a test judged for a run: one without its class named is taken for the run's own."""
    cls = library().categories[plan.category].test_class or ""
    named = test if test.test_class else test.model_copy(update={"test_class": cls})
    return judge(named, practice.ends, light_limit_db(plan))


def run_proof_of(plan: RunPlan, practice: Practice, records: Sequence[Record]) -> RunProof:
    """Return what the records of a run prove. The newest test of what was planned counts; the others stay on record."""
    configuration = configuration_of(practice, plan)
    cls = library().categories[plan.category].test_class or ""
    tests = tests_in(records)
    counting = next(((one, test) for one, test in tests if counts(test, configuration, cls)), None)
    judged = judged_for(plan, practice, counting[1]) if counting else None
    state, why = _state(judged, tests, configuration, cls)
    lengths = _lengths(records, judged)
    measured = lengths[-1] if lengths else None
    share = limit("proving.length_share")
    return RunProof(
        run_id=plan.run_id,
        label=plan.label,
        to_label=plan.to_label,
        cable_label=plan.cable_label,
        category=plan.category,
        configuration=configuration,
        test_class=cls,
        state=state,
        why=why,
        by_word=bool(judged and judged.by_word),
        tests=len(tests),
        test_id=(counting or tests[0])[0].id if tests else None,
        tested_by=(counting or tests[0])[0].by if tests else "",
        fault=judged.fault if judged else None,
        margin_sum=judged.sum if judged else None,
        planned_m=plan.length_m,
        measured_m=measured,
        length_off=measured is not None and abs(measured - plan.length_m) > max(1.0, share * plan.length_m),
        apart=bool(lengths) and max(lengths) - min(lengths) > max(1.0, share * max(lengths)),
        ended=_ended(records),
        needed=plan.keep is None or plan.keep.verdict != "retire",
    )


def _state(
    judged: JudgedTest | None, tests: Sequence[tuple[Record, CableTest]], configuration: str, cls: str
) -> tuple[CableState, str]:
    if judged is not None:
        verdict: Verdict = judged.verdict
        return verdict, judged.why
    if not tests:
        return "none", "no record"
    other = tests[0][1]
    was = f"{other.configuration}, class {other.test_class}" if other.test_class else other.configuration
    wanted = f"{configuration}, class {cls}" if cls else configuration
    return "other", f"tested as {was}; {wanted} is planned"


def _lengths(records: Sequence[Record], judged: JudgedTest | None) -> list[float]:
    """Return what was measured along the cable, oldest first, a tester's own reading last. [m]"""
    found = [one.number for one in records if one.kind == "length" and one.number is not None]
    return [*found, judged.length_m] if judged and judged.length_m is not None else found


def _ended(records: Sequence[Record]) -> bool:
    """Return whether the rack's end, made last, was ticked and not taken back."""
    ticks = [
        one
        for one in records
        if one.kind in ("done", "undone") and (one.task or "").startswith("terminate-rack:")
    ]
    return bool(ticks) and ticks[-1].kind == "done"
