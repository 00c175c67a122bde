"""What a careful colleague says of the air."""

import math
from collections.abc import Iterator
from itertools import combinations

import shapely

from heathrise.core.edit import Put, Remove
from heathrise.core.job import AccessPoint, Job, Link, Wall
from heathrise.core.library import Need, library, limit
from heathrise.core.radio.air import Air
from heathrise.core.radio.channels import channel_choices, span_mhz, sub_band
from heathrise.core.radio.colouring import overlap
from heathrise.core.radio.coverage import NOTHING_DBM, client_power_dbm, with_radio
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.scoring import SpaceNoise, SpaceScore
from heathrise.core.rule import Fix, Observation, Place, rule
from heathrise.core.site.building import Building, space_at
from heathrise.core.units import quantity, ratio_to_db

# A change of channel that saves less weighted overlap than this is not worth a finding.
WORTH_CHANGING = 0.25


def place(point: AccessPoint) -> Place:
    """Return an access point's place."""
    return Place(storey_id=point.storey_id, at=point.at)


@rule("air.space-under-need", per="score")
def space_under_need(score: SpaceScore, job: Job, building: Building) -> Iterator[Observation]:
    """Too small a share of a space has the best signal it needs, by more than the prediction may be off."""
    if score.best_share < limit("air.pass_share") and score.pass_chance < limit("air.marginal_low"):
        need = library().needs[score.need]
        short = 100 * (1 - score.best_share)
        if score.worst_point_id is None:
            yield _hears_nothing(score, need)
            return
        yield Observation(
            subject_ids=(score.space_id,),
            subject=score.label,
            value=score.worst_dbm,
            limit=need.best_dbm,
            unit="dBm",
            text=f"Best signal at {score.band} GHz is under the need in "
            f"{quantity(short, '%', 0)} of the space; worst "
            f"{quantity(score.worst_dbm, 'dBm', 0)}, need {quantity(need.best_dbm or 0, 'dBm', 0)}.",
            advice=_advice(job, building, score),
            place=Place(storey_id=score.storey_id, at=score.worst_at),
            sum=score.sum,
        )


def _hears_nothing(score: SpaceScore, need: Need) -> Observation:
    return Observation(
        subject_ids=(score.space_id,),
        subject=score.label,
        limit=need.best_dbm,
        unit="dBm",
        text=f"No access point is heard at {score.band} GHz; the need is {quantity(need.best_dbm or 0, 'dBm', 0)}.",
        advice="Place an access point that serves this space.",
        place=Place(storey_id=score.storey_id, at=score.worst_at),
        sum=score.sum,
    )


@rule("air.marginal", per="score")
def marginal(score: SpaceScore) -> Iterator[Observation]:
    """A space lies so near its need that the prediction cannot tell whether it is met."""
    if not limit("air.marginal_low") <= score.pass_chance <= limit("air.marginal_high"):
        return
    need = library().needs[score.need]
    over = score.edge_dbm - (need.best_dbm or 0)
    beside = "over" if over >= 0 else "under"
    yield Observation(
        subject_ids=(score.space_id,),
        subject=score.label,
        value=score.edge_dbm,
        limit=need.best_dbm,
        unit="dBm",
        severity="advice" if over >= 0 else None,
        text=f"{quantity(100 * limit('air.pass_share'), '%', 0)} of the space has "
        f"{quantity(score.edge_dbm, 'dBm')} or more at {score.band} GHz, {quantity(abs(over), 'dB')} {beside} the "
        f"need; the chance that it is met is {quantity(100 * score.pass_chance, '%', 0)}.",
        advice="Measure it once it hangs" + (", or bring a point nearer." if over < 0 else "."),
        place=Place(storey_id=score.storey_id, at=score.worst_at),
        sum=score.sum,
    )


@rule("air.noisy", per="clear")
def noisy(clear: SpaceNoise) -> Iterator[Observation]:
    """A space has signal enough, and other points on its channel drown it."""
    if clear.holds:
        return
    yield Observation(
        subject_ids=(clear.space_id,),
        subject=clear.label,
        value=clear.worst_db,
        limit=clear.least_db,
        unit="dB",
        text=f"The signal at {clear.band} GHz lies less than {quantity(clear.least_db, 'dB', 0)} over noise and other "
        f"points on its channel in {quantity(100 * (1 - clear.share), '%', 0)} of the space; worst "
        f"{quantity(clear.worst_db, 'dB', 0)}.",
        advice="Give the points that hear each other channels of their own: narrower channels, less power, or "
        "radar channels.",
        place=Place(storey_id=clear.storey_id, at=clear.worst_at),
        sum=clear.sum,
    )


def _advice(job: Job, building: Building, score: SpaceScore) -> str:
    if score.worst_point_id is None:
        return "Place an access point that serves this space."
    serving = job.get(AccessPoint, score.worst_point_id)
    house = building.house_at(score.worst_at)
    if house != building.house_at(serving.at):
        return f"Access point {serving.label} reaches it through the outer wall. Give it a point of its own."
    return f"Move access point {serving.label} nearer to the mark on the sheet, or add a point there."


@rule("air.no-second-signal", per="score")
def no_second_signal(score: SpaceScore, job: Job) -> Iterator[Observation]:
    """A space that needs a second signal has too little of it."""
    if job.practice.second_signal == "ignored":
        return
    need = library().needs[score.need]
    if score.dark or need.second_dbm is None or score.second_share >= limit("air.pass_share"):
        return
    # Alone it has no second point to have; that is said of the first signal.
    alone = score.worst_second_dbm <= NOTHING_DBM
    level = "none is heard" if alone else f"worst {quantity(score.worst_second_dbm, 'dBm', 0)}"
    wished = job.practice.second_signal == "wished"
    yield Observation(
        subject_ids=(score.space_id,),
        subject=score.label,
        value=None if alone else score.worst_second_dbm,
        limit=need.second_dbm,
        unit="dBm",
        severity="advice" if wished else None,
        text=f"No second signal in {quantity(100 * (1 - score.second_share), '%', 0)} of the "
        f"space: {level}, need {quantity(need.second_dbm, 'dBm', 0)}.",
        advice="Bring a second point within reach, or accept that a call may drop here.",
        place=Place(storey_id=score.storey_id, at=score.worst_second_at),
        sum=score.sum,
    )


@rule("air.up-down-apart")
def up_down_apart(job: Job, air: Air) -> Iterator[Observation]:
    """The access point is much louder than its clients."""
    client = library().clients[job.brief.client_class]
    hears_better = limit("air.noise_figure_client_db") - limit("air.noise_figure_point_db")
    for row in air.radio_plan:
        sends = client.power_dbm(row.band)
        if sends is None:
            continue
        point = job.get(AccessPoint, row.point_id)
        has = job.equipment[point.model].band(row.band)
        combining = ratio_to_db(has.chains / 2) if has and has.chains > 2 else 0.0
        apart = row.power_dbm - client_power_dbm(client, row.band) - hears_better - combining
        if apart <= limit("air.imbalance_warning_db"):
            continue
        # As loud as the client answers: the middle of what is right, not its edge.
        level = row.power_dbm - apart
        over = apart > limit("air.imbalance_fault_db")
        most = limit("air.imbalance_fault_db" if over else "air.imbalance_warning_db")
        yield Observation(
            subject_ids=(row.point_id, row.band),
            subject=f"{row.label}, {row.band} GHz",
            value=round(apart, 1),
            limit=most,
            unit="dB",
            severity="fault" if over else None,
            text=f"It is {quantity(apart, 'dB')} louder than a {client.label.lower()} can answer, "
            f"its better hearing counted; {quantity(most, 'dB', 0)} is the most.",
            advice="Lower its power and, where that leaves a hole, add a point.",
            place=place(point),
            fixes=(_power_fix(job, point, row, level),),
        )


def _power_fix(job: Job, point: AccessPoint, row: RadioPlan, power_dbm: float) -> Fix:
    lowered = with_radio(job, point, row.band, power_dbm=round(power_dbm, 1))
    label = f"Lower {row.band} GHz to {power_dbm:.1f} dBm"
    return Fix(label=label, operations=(Put(element=lowered),))


@rule("air.power-over-domain")
def power_over_domain(job: Job, air: Air) -> Iterator[Observation]:
    """Power and antenna together exceed the domain's limit on the channel."""
    for row in air.radio_plan:
        if row.eirp_limit_dbm is None or row.eirp_dbm <= row.eirp_limit_dbm + 1e-9:
            continue
        point = job.get(AccessPoint, row.point_id)
        gain = row.eirp_dbm - row.power_dbm
        yield Observation(
            subject_ids=(row.point_id, row.band),
            subject=f"{row.label}, {row.band} GHz",
            value=round(row.eirp_dbm, 1),
            limit=row.eirp_limit_dbm,
            unit="dBm",
            text=f"{quantity(row.power_dbm, 'dBm')} and {quantity(gain, 'dBi')} make "
            f"{quantity(row.eirp_dbm, 'dBm')} EIRP on channel {row.channel}; the limit over "
            f"{quantity(row.width_mhz, 'MHz', 0)} is {quantity(row.eirp_limit_dbm, 'dBm')}.",
            advice="Lower the power to the limit. Check the limit with your regulator.",
            place=place(point),
            fixes=(_power_fix(job, point, row, row.eirp_limit_dbm - gain),),
        )


@rule("air.in-no-go")
def in_no_go(job: Job, building: Building) -> Iterator[Observation]:
    """An access point stands in a space marked as no-go."""
    for point in job.of(AccessPoint):
        space = space_at(job, building, point.storey_id, point.at)
        if space is not None and space.no_go:
            yield Observation(
                subject_ids=(point.id,),
                subject=point.label,
                text=f"{point.label} stands in {space.label}, which is a no-go: {space.no_go}.",
                advice="Move it out of the space.",
                place=place(point),
            )


@rule("air.in-wall")
def in_wall(job: Job) -> Iterator[Observation]:
    """An access point under a ceiling or on a desk stands inside a wall."""
    for point, wall, apart in _beside_walls(job):
        half = _half_thickness_m(job, wall)
        if apart < half - 0.01:
            yield Observation(
                subject_ids=(point.id, wall.id),
                subject=point.label,
                value=round(apart, 3),
                limit=round(half, 3),
                unit="m",
                text=f"{point.label} stands inside {wall.label}: {quantity(apart, 'm', 2)} from "
                f"its middle, and the wall is {quantity(2 * half, 'm', 2)} thick.",
                advice="Move it clear of the wall, or mount it on the wall.",
                place=place(point),
            )


def _beside_walls(job: Job) -> Iterator[tuple[AccessPoint, Wall, float]]:
    """Yield each point that needs room round it with each wall of its storey it may stand in. [m]"""
    points = [point for point in job.of(AccessPoint) if point.mount in ("ceiling", "desk")]
    walls = job.of(Wall)
    if not points or not walls:
        return
    here = shapely.points([(point.at.x_m, point.at.y_m) for point in points])
    lines = shapely.linestrings([((w.a.x_m, w.a.y_m), (w.b.x_m, w.b.y_m)) for w in walls])
    most = max(_half_thickness_m(job, wall) for wall in walls)
    near = shapely.STRtree(lines).query(here, predicate="dwithin", distance=most)
    for i, k in sorted(map(tuple, near.T.tolist())):
        if walls[k].storey_id == points[i].storey_id:
            yield points[i], walls[k], float(shapely.distance(here[i], lines[k]))


def _half_thickness_m(job: Job, wall: Wall) -> float:
    usual = job.build_ups[wall.build_up].thickness_m if wall.build_up else None
    return (wall.thickness_m or usual or limit("plan.wall_usual_m")) / 2


@rule("air.two-at-one-spot")
def two_at_one_spot(job: Job) -> Iterator[Observation]:
    """Two access points hang so near each other that they serve as one and disturb each other."""
    for one, other in combinations(job.of(AccessPoint), 2):
        apart = math.hypot(one.at.x_m - other.at.x_m, one.at.y_m - other.at.y_m)
        if one.storey_id == other.storey_id and apart < limit("air.least_apart_m"):
            yield Observation(
                subject_ids=(one.id, other.id),
                subject=f"{one.label}, {other.label}",
                value=round(apart, 2),
                limit=limit("air.least_apart_m"),
                unit="m",
                text=f"{one.label} and {other.label} are {quantity(apart, 'm', 1)} apart; "
                f"{quantity(limit('air.least_apart_m'), 'm', 1)} is the least.",
                advice="Move one, or take it away: two at one spot share the air and add nothing.",
                place=place(other),
                fixes=(Fix(label=f"Take {other.label} away", operations=(Remove(id=other.id),)),),
            )


@rule("air.same-channel")
def same_channel(job: Job, air: Air) -> Iterator[Observation]:
    """A radio set by hand shares its channel with loud neighbours while a quieter one exists."""
    ends = [{link.a.on, link.b.on} for link in job.of(Link) if link.medium == "mesh"]
    hop = {point_id for pair in ends for point_id in pair}
    for row in air.radio_plan:
        if not row.fixed or row.shared - row.quietest_shared < WORTH_CHANGING:
            continue
        # Points that hang on each other stand on one channel for good reason.
        if row.point_id in hop and {row.point_id, *_ids_on(air, row)} & hop != {row.point_id}:
            continue
        point = job.get(AccessPoint, row.point_id)
        names = " and ".join(other.label for other in _on_its_channel(air, row)[:2])
        put = Put(element=with_radio(job, point, row.band, channel=row.quietest))
        yield Observation(
            subject_ids=(row.point_id, row.band),
            subject=f"{row.label}, {row.band} GHz",
            value=row.shared,
            limit=row.quietest_shared,
            text=f"Channel {row.channel} is shared with {names}; weighted overlap "
            f"{row.shared:.1f}, on channel {row.quietest} it is {row.quietest_shared:.1f}.",
            advice=f"Change to channel {row.quietest}, or leave the channel to the plan.",
            place=place(point),
            fixes=(Fix(label=f"Change to channel {row.quietest}", operations=(put,)),),
        )


def _ids_on(air: Air, row: RadioPlan) -> set[str]:
    return {other.point_id for other in _on_its_channel(air, row)}


def _on_its_channel(air: Air, row: RadioPlan) -> list[RadioPlan]:
    """Return the other radios whose block touches a radio's block."""
    assert row.channel is not None
    mine = span_mhz(row.band, row.channel, row.width_mhz)
    return [
        other
        for other in air.radio_plan
        if other.band == row.band
        and other.point_id != row.point_id
        and other.channel is not None
        and overlap(mine, span_mhz(other.band, other.channel, other.width_mhz)) > 0
    ]


@rule("air.indoor-unit-outdoors")
def indoor_unit_outdoors(job: Job, building: Building) -> Iterator[Observation]:
    """An indoor unit stands outside every house."""
    for point in job.of(AccessPoint):
        model = job.equipment[point.model]
        if not model.outdoor and building.house_at(point.at) is None:
            yield Observation(
                subject_ids=(point.id,),
                subject=point.label,
                text=f"{point.label} is a {model.label}, made for inside, and stands outdoors.",
                advice="Choose an outdoor unit, or bring it under the roof.",
                place=place(point),
            )


@rule("air.outdoors-on-indoor-band")
def outdoors_on_indoor_band(job: Job, building: Building, air: Air) -> Iterator[Observation]:
    """An outdoor radio was set to a channel that is for indoors only."""
    domain = library().domains[job.site.domain]
    for row in air.radio_plan:
        piece = sub_band(domain, row.band, row.channel) if row.channel is not None else None
        if piece is None or not piece.indoor_only:
            continue
        point = job.get(AccessPoint, row.point_id)
        if building.house_at(point.at) is not None:
            continue
        choices = channel_choices(job, row.band, row.width_mhz, outdoors=True)
        fixes: tuple[Fix, ...] = ()
        if choices:
            moved = with_radio(job, point, row.band, channel=choices[0])
            fixes = (Fix(label=f"Change to channel {choices[0]}", operations=(Put(element=moved),)),)
        yield Observation(
            subject_ids=(row.point_id, row.band),
            subject=f"{row.label}, {row.band} GHz",
            text=f"Channel {row.channel} is for indoors only in the {domain.label} domain.",
            advice="Choose a channel allowed outdoors, or switch this radio off.",
            place=place(point),
            fixes=fixes,
        )


@rule("air.airtime-full")
def airtime_full(job: Job, air: Air) -> Iterator[Observation]:
    """A radio's air is nearly used up at its busiest hour."""
    for load in air.loads:
        if load.peak <= limit("air.airtime_warning"):
            continue
        fault = load.peak > limit("air.airtime_fault")
        point = job.get(AccessPoint, load.point_id)
        at_most = limit("air.airtime_fault" if fault else "air.airtime_warning")
        yield Observation(
            subject_ids=(load.point_id, load.band),
            subject=f"{load.label}, {load.band} GHz",
            value=round(100 * load.peak, 1),
            limit=100 * at_most,
            unit="%",
            severity="fault" if fault else None,
            text=f"At {load.peak_hour:02d}:00 {quantity(100 * load.peak, '%', 0)} of its air is in use by "
            f"{load.clients:.0f} clients busy at once; {quantity(100 * at_most, '%', 0)} is the most.",
            advice="Add a point where these people are, widen the channel, or give fixed things a cable.",
            place=place(point),
            sum=load.sum,
        )


@rule("air.drop-on-walk")
def drop_on_walk(air: Air) -> Iterator[Observation]:
    """A walk has a stretch without signal."""
    for walked in air.walks:
        for number, drop in enumerate(walked.drops):
            yield Observation(
                subject_ids=(walked.walk_id, str(number)),
                subject=f"{walked.label}, {drop.from_s:.0f} s",
                value=round(drop.to_s - drop.from_s, 1),
                limit=limit("air.drop_s"),
                unit="s",
                text=drop.text,
                advice="Add a point there, or accept that calls end on this way.",
                place=Place(storey_id=drop.storey_id, at=drop.at),
                fixes=drop.fixes,
            )
