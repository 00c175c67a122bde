"""What was written down on the site of a demo job: every run tested, two of them not as they should be; ports and points looked
at, a fault, something found otherwise.
"""

import math
import uuid
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from itertools import count

from heathrise.core.cabling.derived import runs
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.cabling.testlimits import limit_at
from heathrise.core.deriving import Memo
from heathrise.core.job import (
    AccessPoint,
    CableTest,
    Curve,
    Fault,
    FoundOtherwise,
    Job,
    PortSeen,
    Quantity,
    Record,
    TestReading,
)
from heathrise.core.job.onsite import Measured
from heathrise.core.library import library
from heathrise.core.proving.cables import configuration_of
from heathrise.core.proving.derived import port_proofs

_BEGAN = datetime(2026, 11, 2, 8, tzinfo=UTC)
_PAIRS = ("12", "36", "45", "78")
_F_MHZ = tuple(round(1.0 * 1.19**n, 2) for n in range(36))
_SPEED_M_PER_NS = 0.2
_LOOP_OHM_PER_M = 0.19


def tested(job: Job, plan: RunPlan, margin_db: float = 6.0) -> CableTest:
    """Return a test of a run whose worst reading is so far from its limit. [dB]"""
    configuration = configuration_of(job.practice, plan)
    cls = library().categories[plan.category].test_class
    if cls is None:
        loss = TestReading(quantity="light-loss", value=0.9)
        return CableTest(configuration=configuration, verdict="pass", readings=(loss,))
    top = library().test_classes[cls].top_mhz
    f_mhz = (*(f for f in _F_MHZ if f < top), top)
    over = {
        "insertion-loss": ("12", "36", "45", "78"),
        "next": ("12-36", "12-45", "36-78"),
        "return-loss": ("12", "78"),
    }
    curves = [
        _curve(quantity, pair, cls, configuration, f_mhz, margin_db + 0.7 * n)  # type: ignore[arg-type]
        for quantity, pairs in over.items()
        for n, pair in enumerate(pairs)
    ]
    length = round(plan.length_m * 1.02, 1)
    single = (
        TestReading(quantity="length", pair="12", value=length),
        TestReading(quantity="delay", pair="12", value=round(length / _SPEED_M_PER_NS, 0)),
        TestReading(quantity="skew", value=11),
        TestReading(quantity="loop", pair="12", value=round(length * _LOOP_OHM_PER_M, 1)),
    )
    return CableTest(
        configuration=configuration,
        test_class=cls,
        verdict="pass" if margin_db > 0 else "fail",
        wire_map="12345678",
        site=job.name[:80],
        tester="Tester 2",
        readings=single,
        curves=tuple(curves),
    )


def _curve(
    quantity: Quantity, pair: str, cls: str, configuration: str, f_mhz: tuple[float, ...], margin_db: float
) -> Curve:
    """Return a curve that keeps its distance from the limit, a little more between its worst places."""
    values = []
    for f in f_mhz:
        most = limit_at(quantity, cls, configuration, f)
        assert most is not None
        apart = margin_db + 1.6 * abs(math.sin(f / 9)) + (4 if f < 4 else 0)
        values.append(round(most - apart if quantity == "insertion-loss" else most + apart, 2))
    return Curve(quantity=quantity, pair=pair, f_mhz=f_mhz, value=tuple(values))


def written_down(job: Job) -> tuple[Record, ...]:
    """Return what was written down on the site of a job."""
    look = Memo(job).look
    return tuple(_records(job, runs(look).plans, [port.subject for port in port_proofs(look)][:-4]))


def _records(job: Job, plans: tuple[RunPlan, ...], ports: list[str]) -> Iterator[Record]:
    minutes = count(0, 3)

    def record(subject: str, kind: str, by: str, **more: object) -> Record:
        at = _BEGAN + timedelta(minutes=next(minutes))
        given = {"id": str(uuid.uuid5(uuid.UUID(job.site.id), f"{subject} {at}")), "said_at": at, "at": at}
        return Record.model_validate({**given, "kind": kind, "subject": subject, "by": by, **more})

    def measured(subject: str, by: str, what: Measured, **more: object) -> Record:
        return record(subject, "measured", by, measured=what.model_dump(), **more)

    for plan in plans:
        for step in ("pull", "terminate-device", "terminate-rack"):
            yield record(plan.run_id, "done", "Ines", task=f"{step}:{plan.run_id}")
    margins = {0: 0.6, 1: 4.0}
    for n, plan in enumerate(plans):
        test = tested(job, plan, margins.get(n, 5.0 + n % 4))
        if n == 1:
            test = test.model_copy(update={"verdict": "fail", "wire_map": "1234567x"})
        yield measured(plan.run_id, "Tomas", test, task=f"test:{plan.run_id}")
    planned = {port.subject: port for port in port_proofs(Memo(job).look)}
    for subject in ports:
        checks = {check.code: check for check in planned[subject].checks}
        watts = checks["watts"].limit if "watts" in checks else None
        network = checks["network"].planned if "network" in checks else ""
        seen = PortSeen(mbps=int(checks["speed"].limit or 0), watts=watts, network=network)
        yield measured(subject, "Ines", seen)
    points = job.of(AccessPoint)
    yield measured(
        points[0].id, "Tomas", Fault(owner="Ines"), text="Ceiling tile cracked while it was mounted"
    )
    otherwise = FoundOtherwise(field="height_m", value="2.4", shown=f"{points[1].height_m:g}")
    yield measured(points[1].id, "Tomas", otherwise, text="A duct in the way; hangs lower")
