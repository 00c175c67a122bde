"""What a careful colleague says of what was measured and found."""

from collections import defaultdict
from collections.abc import Iterator

from heathrise.core.job import Job, Link, SurveyPoint, Walk
from heathrise.core.library import limit
from heathrise.core.proving.cables import RunProof
from heathrise.core.proving.derived import Proofs
from heathrise.core.proving.ports import Check, PointProof, PortProof, two_pairs_only
from heathrise.core.rule import Observation, Place, rule
from heathrise.core.units import quantity

_NAMED = 6


@rule("prove.no-record")
def no_record(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """Runs are ended, or others are tested, and these have no record that counts."""
    by_rack: dict[str, list[RunProof]] = defaultdict(list)
    for run in proofs.runs:
        if run.needed and run.state == "none" and (run.ended or proofs.begun):
            link = job.get(Link, run.run_id)
            by_rack[job.rack_of(link.a.on) or link.a.on].append(run)
    for rack_id, some in by_rack.items():
        label = job.by_id[rack_id].label
        named = ", ".join(run.label for run in some[:_NAMED])
        more = f" and {len(some) - _NAMED} more" if len(some) > _NAMED else ""
        yield Observation(
            subject_ids=(rack_id,),
            subject=label,
            value=len(some),
            limit=0,
            unit="runs",
            text=f"{len(some)} runs of {label} have no test record: {named}{more}.",
            advice="Test them and read the file in stage 10, or type what the tester said.",
        )


def _of_run(job: Job, run: RunProof, text: str, advice: str) -> Observation:
    link = job.get(Link, run.run_id)
    spot = job.spot(link.b.on)
    return Observation(
        subject_ids=(run.run_id,),
        subject=run.label,
        text=text,
        advice=advice,
        value=run.margin_sum.value if run.margin_sum else None,
        unit=run.margin_sum.unit if run.margin_sum else "",
        place=Place(storey_id=spot.storey_id, at=spot.at),
        sum=run.margin_sum,
    )


@rule("prove.test-failed")
def test_failed(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A test that counts says fail."""
    for run in proofs.runs:
        if run.state == "fail":
            fault = run.fault
            text = f"Run {run.label} to {run.to_label} fails: {run.why}."
            advice = "End it anew and test again."
            if fault is not None:
                text, advice = f"{text} {fault.name}: {fault.text}", f"{fault.advice} Then test again."
            yield _of_run(job, run, text, advice)


@rule("prove.marginal")
def marginal(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A pass that is nearer to its limit than a tester is sure of."""
    for run in proofs.runs:
        if run.state == "marginal":
            text = f"Run {run.label} to {run.to_label} passes by little: {run.why}."
            yield _of_run(
                job, run, text, "End it anew while the tester is at hand; else write down why it stays."
            )


@rule("prove.other-test")
def other_test(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """Only records of another configuration or class are there."""
    for run in proofs.runs:
        if run.state == "other":
            text = f"Run {run.label}: {run.why}. That record says nothing of what was planned."
            yield _of_run(job, run, text, "Set the tester as planned and test again.")


@rule("prove.length-off")
def length_off(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A cable is another length than drawn, or lengths of it do not agree."""
    for run in proofs.runs:
        if run.measured_m is None or not (run.length_off or run.apart):
            continue
        apart = " Lengths written down of it do not agree." if run.apart else ""
        found = _of_run(
            job,
            run,
            f"Run {run.label} measures {quantity(run.measured_m, 'm')}; {quantity(run.planned_m, 'm')} is drawn.{apart}",
            "Look which cable was measured; if it is this one, draw the way it really takes.",
        )
        yield found.model_copy(
            update={"value": run.measured_m, "limit": run.planned_m, "unit": "m", "sum": None}
        )


def _checked(
    job: Job, at_id: str, also: str, subject: str, check: Check, text: str, advice: str
) -> Observation:
    """Return what differs at a port or a point: told by where it is and by what else tells it apart."""
    spot = job.spot(at_id)
    return Observation(
        subject_ids=(at_id, also),
        subject=subject,
        text=text,
        advice=advice,
        value=check.value,
        limit=check.limit,
        unit=check.unit,
        place=Place(storey_id=spot.storey_id, at=spot.at),
    )


def _of_port(job: Job, port: PortProof, check: Check, text: str, advice: str) -> Observation:
    name = f"{port.switch_label} port {port.port}"
    return _checked(job, port.switch_id, port.run_id or port.port, name, check, text, advice)


def _of_point(job: Job, point: PointProof, check: Check, text: str, advice: str) -> Observation:
    return _checked(job, point.point_id, check.name, point.label, check, text, advice)


def _differing(proofs: Proofs, code: str) -> Iterator[tuple[PortProof, Check]]:
    for port in proofs.ports:
        for check in port.checks:
            if check.code == code and check.holds is False:
                yield port, check


@rule("prove.lower-speed")
def lower_speed(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A port links slower than planned."""
    for port, check in _differing(proofs, "speed"):
        text = f"Port {port.port} of {port.switch_label} to {port.to_label}: {check.found}; {check.planned} is planned."
        advice = "Look at cord, both ends and the device's own setting; test the run."
        if two_pairs_only(check):
            text += " At that speed two pairs carry it: a wire of another pair is dead."
            advice = "Test the run for an open wire, first where it was ended last; a cord by trying another."
        yield _of_port(job, port, check, text, advice)


@rule("prove.over-draw")
def over_draw(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A device draws more than planned."""
    for port, check in _differing(proofs, "watts"):
        text = f"{port.to_label} on port {port.port} of {port.switch_label} draws {check.found}; {check.planned} is planned."
        yield _of_port(
            job,
            port,
            check,
            text,
            "Look what hangs on it; give the model its true draw, and see if the budget holds.",
        )


@rule("prove.wrong-network")
def wrong_network(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A port comes into another network than planned."""
    for port, check in _differing(proofs, "network"):
        text = (
            f"Port {port.port} of {port.switch_label} comes into {check.found}; {check.planned} is planned."
        )
        yield _of_port(
            job, port, check, text, "Set the port's profile as stage 7 says, or patch it where it belongs."
        )


def _points(proofs: Proofs, *codes: str) -> Iterator[tuple[PointProof, Check]]:
    for point in proofs.points:
        for check in point.checks:
            if check.code in codes and check.holds is False:
                yield point, check


@rule("prove.wrong-unit")
def wrong_unit(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """Another unit hangs at a place than the drawing says."""
    for point, check in _points(proofs, "serial"):
        text = f"At {point.label} hangs the unit {check.found}; the drawing says {check.planned}."
        yield _of_point(
            job,
            point,
            check,
            text,
            "Change the two units, or write the serial that hangs there on the drawing.",
        )


@rule("prove.radio-differs")
def radio_differs(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A radio is on another channel or power than planned."""
    for point, check in _points(proofs, "channel", "power"):
        text = f"{point.label}, {check.name.lower()}: {check.found} found, {check.planned} planned."
        yield _of_point(
            job, point, check, text, "Send the plan to the controller again and switch its own choosing off."
        )


@rule("prove.name-not-joined")
def name_not_joined(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A client could not join a name."""
    for point, check in _points(proofs, "joined"):
        text = f"At {point.label} a client could not {check.name[0].lower()}{check.name[1:]}."
        yield _of_point(
            job,
            point,
            check,
            text,
            "Look at the passphrase, whether the name is on that radio, and the port's tagged networks.",
        )


@rule("prove.guest-inside")
def guest_inside(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A guest reaches what is inside."""
    for point, check in _points(proofs, "guest"):
        text = f"A guest at {point.label} reaches what is inside."
        yield _of_point(
            job,
            point,
            check,
            text,
            "Close it before anybody is let on: the flows of stage 7, isolation of the guest's name.",
        )


@rule("prove.walk-breaks")
def walk_breaks(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """A call broke on a walk."""
    for walk in proofs.walks:
        if walk.breaks:
            stop = job.get(Walk, walk.walk_id).stops[0]
            yield Observation(
                subject_ids=(walk.walk_id,),
                subject=walk.label,
                value=walk.breaks,
                limit=0,
                unit="breaks",
                text=f"A call broke {walk.breaks} times on the walk {walk.label}.",
                advice="Note where: a door, a stair, a change of point. Mend that place and walk again.",
                place=Place(storey_id=stop.storey_id, at=stop.at),
            )


@rule("prove.air-weak")
def air_weak(proofs: Proofs) -> Iterator[Observation]:
    """Over a space the air is far weaker than predicted."""
    for space in proofs.spaces:
        if space.weak:
            yield Observation(
                subject_ids=(space.space_id,),
                subject=space.label,
                value=space.off_db,
                limit=-limit("proving.air_under_db"),
                unit="dB",
                text=f"In {space.label} {space.readings} readings lie {quantity(-space.off_db, 'dB')} under prediction.",
                advice="Look for metal, a wall of another kind, a point the wrong way round or on low power; then measure again.",
            )


@rule("prove.need-not-met")
def need_not_met(proofs: Proofs) -> Iterator[Observation]:
    """Measured, a space does not reach its need."""
    for space in proofs.spaces:
        if not space.holds and space.need_dbm is not None:
            yield Observation(
                subject_ids=(space.space_id,),
                subject=space.label,
                value=space.met,
                limit=space.places,
                unit="places",
                text=(
                    f"{space.label} was measured at {space.places} places; at {space.met} of them the loudest point "
                    f"reaches {quantity(space.need_dbm, 'dBm', 0)} ({space.need_label})."
                ),
                advice="Mend it as stage 3 proposes, learn from the survey, and measure again.",
            )


@rule("prove.never-calibrated")
def never_calibrated(job: Job, proofs: Proofs) -> Iterator[Observation]:
    """There are readings, and nothing was learned from them."""
    readings = sum(space.readings for space in proofs.spaces)
    if readings >= limit("proving.air_points") and job.calibration is None:
        first = job.of(SurveyPoint)[0]
        yield Observation(
            subject_ids=(first.id,),
            subject="Survey",
            value=readings,
            unit="readings",
            text=f"{readings} readings are there, and the prediction has learned nothing from them.",
            advice="Press Learn from the survey in stage 3; what it takes is shown before it counts.",
        )
