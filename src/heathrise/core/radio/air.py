"""The air of a job, derived: every space scored against its need, the radio plan, airtime, walks.

What is heavy reads bare elements, which name each other by id; labels are written at the end, so that a
new name costs a row and no signal.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heathrise.core.deriving import Broken, Look, Memo, bulky, derived, gathered
from heathrise.core.job import BANDS, AccessPoint, Band, Element, Job, Neighbour, Radio, Walk
from heathrise.core.job.view import Slice, field_of, ids_of, job_of, slice_of
from heathrise.core.library import library
from heathrise.core.radio.capacity import (
    SLOWEST_MBPS,
    Part,
    RadioLoad,
    Served,
    fixed_share,
    load_of,
    parts_by_radio,
    served_by,
)
from heathrise.core.radio.channels import ChannelPlan, between_db, heard_dbm, plan_band
from heathrise.core.radio.coverage import Paths, Signals, paths, powered, radios, standing_on
from heathrise.core.radio.finds import BandPlan, RadioPlan
from heathrise.core.radio.hopping import Hop, Nodes, behind, mesh_links, turns
from heathrise.core.radio.reach import factored
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.radio.scoring import SpaceNoise, SpaceScore, cells_of, judging, noise, score
from heathrise.core.radio.views import AirView, sinr
from heathrise.core.radio.walking import Walked, play, steps_of
from heathrise.core.site.building import named
from heathrise.core.site.derived import building, peopled, space_demand

Floats = NDArray[np.float64]
# What decides how loud a point is where; its channel does not.
SENDING = Slice(
    "sending",
    {
        "access-point": frozenset(
            {"storey_id", "at", "height_m", "model", "mount", "facing_deg", "tilt_deg", "antenna", "radios"}
        ),
        "practice": frozenset({"points_power"}),
        "brief": frozenset({"client_class"}),
        "model": frozenset({"code", "model"}),
    },
)
# What decides channels and widths beside that.
PLANNING = Slice(
    "planning",
    {
        **SENDING.fields,
        "practice": frozenset(
            {"points_power", "set_24", "width_5_mhz", "width_6_mhz", "radar_channels", "radio_settings"}
        ),
        "site": frozenset({"domain"}),
        "neighbour": frozenset({"band", "channel", "width_mhz", "rssi_dbm"}),
    },
)


@dataclass(frozen=True)
class Air:
    """What the later stages and the rules read of the air."""

    scene: Scene | None
    scores: tuple[SpaceScore, ...]
    radio_plan: tuple[RadioPlan, ...]
    bands: tuple[BandPlan, ...]
    loads: tuple[RadioLoad, ...]
    walks: tuple[Walked, ...]
    broken: tuple[Broken, ...] = ()


@derived
def scene(look: Look) -> Scene:
    """The building as the kernel reads it."""
    return scene_of(building(look))


@derived
def sending_all(look: Look) -> Job:
    """The points with their radios, and what they send by, bare."""
    return Job.model_construct(name="sending", elements=slice_of(look, SENDING))


@derived
def sending(look: Look, band: Band) -> Job:
    """The radios of a band that are on the air, without their channels."""
    bare = sending_all(look)
    return Job.model_construct(
        name="sending",
        elements=tuple(_on_band(bare, e, band) if isinstance(e, AccessPoint) else e for e in bare.elements),
    )


def _on_band(bare: Job, point: AccessPoint, band: Band) -> AccessPoint:
    kept = tuple(
        radio.model_copy(update={"channel": None, "width_mhz": None, "locked": False})
        for radio in radios(bare, point)
        if radio.band == band
    )
    # One that is off everywhere: a point without radios of its own would have its model's.
    return point.model_copy(update={"radios": kept or (_silent(band),)})


def _silent(band: Band) -> Radio:
    other: Band = "2.4" if band != "2.4" else "5"
    return Radio(band=other, on=False, power_dbm=0)


@derived
def standing(look: Look, band: Band) -> Job:
    """The same radios without their powers: what decides the ways of the air."""
    sent = sending(look, band)
    return Job.model_construct(
        name="standing",
        elements=tuple(_unpowered(e) if isinstance(e, AccessPoint) else e for e in sent.elements),
    )


def _unpowered(point: AccessPoint) -> AccessPoint:
    bare = tuple(radio.model_copy(update={"power_dbm": 0.0}) for radio in point.radios)
    return point.model_copy(update={"radios": bare})


@bulky
def between(look: Look, band: Band) -> Floats:
    """The gain between all points on a band, (n, n)."""
    job = standing(look, band)
    return between_db(job, scene(look), band, standing_on(job, band))


@derived
def planning(look: Look) -> Job:
    """What channels are planned on, bare."""
    return Job.model_construct(name="planning", elements=slice_of(look, PLANNING))


@derived
def planning_on(look: Look, band: Band) -> Job:
    """What the channels of one band are planned on: another band's radios and neighbours are not read."""
    job = planning(look)
    kept = (_only(job, e, band) for e in job.elements)
    return Job.model_construct(name="planning", elements=tuple(e for e in kept if e is not None))


def _only(job: Job, element: Element, band: Band) -> Element | None:
    if isinstance(element, AccessPoint):
        on = tuple(radio for radio in radios(job, element) if radio.band == band)
        return element.model_copy(update={"radios": on or (_silent(band),)})
    return None if isinstance(element, Neighbour) and element.band != band else element


@bulky
def levels_between(look: Look, band: Band) -> tuple[dict[str, int], Floats]:
    """How loud each point is at each other on a band, and the row of each by its id. [dBm]"""
    job = sending_all(look)
    points = standing_on(job, band)
    heard_there = heard_dbm(job, scene(look), band, points, between(look, band))
    return {point.id: n for n, point in enumerate(points)}, heard_there


def hop_nodes(look: Look) -> Nodes:
    """Return the points of a job as they hear each other."""
    job = job_of(look)
    return Nodes(
        job=job,
        scene=scene(look),
        points={point.id: point for point in job.of(AccessPoint)},
        levels={band: levels_between(look, band) for band in BANDS},
        rows={(row.point_id, row.band): row for row in radio_rows(look)},
    )


@derived
def mesh_pairs(look: Look) -> tuple[tuple[str, str], ...]:
    """Which point hangs on which, parent and child."""
    return tuple((link.a.on, link.b.on) for link in mesh_links(job_of(look)).values())


@derived
def hops_on(look: Look, band: Band) -> tuple[Hop, ...]:
    """The hops that were decided and go over a band."""
    pairs = mesh_pairs(look)
    if not pairs:
        return ()
    nodes = hop_nodes(look)
    known = [(a, b) for a, b in pairs if a in nodes.points and b in nodes.points]
    found = ((a, b, nodes.hop(a, b)) for a, b in known)
    return tuple(Hop(a, b, hop.mbps) for a, b, hop in found if hop is not None and hop.band == band)


@derived
def channel_plan(look: Look, band: Band) -> ChannelPlan:
    """The channels of a band and how good they are; points are named by their ids."""
    return plan_band(planning_on(look, band), scene(look), band, between=between(look, band))


@bulky
def ways_over(look: Look, storey_id: str, band: Band) -> Paths:
    """The paths from every point to every place of a storey."""
    here = scene(look)
    return paths(standing(look, band), here, band, here.grid(storey_id))


@bulky
def heard(look: Look, storey_id: str, band: Band) -> Signals:
    """Every point's signal over a storey."""
    return powered(sending(look, band), ways_over(look, storey_id, band), band)


@bulky
def air_view(look: Look, storey_id: str, band: Band) -> AirView:
    """One band of the air over a storey, with its channels."""
    here = scene(look)
    plan = channel_plan(look, band).rows
    signals_there = heard(look, storey_id, band)
    return AirView(
        planning(look),
        here,
        band,
        here.grid(storey_id),
        "weaker",
        plan,
        known=signals_there,
        in_turn=turns(hops_on(look, band)),
    )


@bulky
def sinr_over(look: Look, storey_id: str, band: Band) -> NDArray[np.float32]:
    """The best signal over noise and what else is sent on the serving channel, over a storey. [dB]"""
    return sinr(air_view(look, storey_id, band))


@derived
def scored(look: Look, space_id: str) -> SpaceScore | None:
    """How a space meets its need, named by ids; None for one that asks for nothing, or has no cell."""
    storey_id, need = field_of(look, space_id, "storey_id"), field_of(look, space_id, "need")
    band = library().needs[need].band
    here = scene(look)
    inside = cells_of(here.building, here.grid(storey_id), storey_id).get(space_id)
    if band is None or inside is None or not len(inside):
        return None
    over = AirView(
        sending(look, band),
        here,
        band,
        here.grid(storey_id),
        "weaker",
        (),
        known=heard(look, storey_id, band),
    )
    by = judging(job_of(look).practice)
    # Plant rooms, and rooms behind lead or metal, are not asked for a second signal.
    if space_id in here.building.shielded or field_of(look, space_id, "space_kind") == "plant":
        by = replace(by, second=False, dark=True)
    return score(space_id, storey_id, need, over, inside, by)


@derived
def space_score(look: Look, space_id: str) -> SpaceScore | None:
    """How a space meets its need, by its name."""
    found = scored(look, space_id)
    if found is None:
        return None
    label = field_of(look, space_id, "label")
    total = found.sum.model_copy(update={"label": found.sum.label.replace(space_id, label, 1)})
    return found.model_copy(update={"label": label, "sum": total})


@derived
def space_noise(look: Look, space_id: str) -> SpaceNoise | None:
    """How clear a space is of noise and other points, by its name; None for one that asks for nothing.

    Apart from its score: a channel that changes moves no signal, so scores stay.
    """
    if scored(look, space_id) is None:
        return None
    storey_id = field_of(look, space_id, "storey_id")
    need = library().needs[field_of(look, space_id, "need")]
    assert need.band is not None
    here = scene(look)
    grid = here.grid(storey_id)
    inside = cells_of(here.building, grid, storey_id)[space_id]
    found = noise(space_id, storey_id, need, sinr_over(look, storey_id, need.band), grid, inside)
    label = field_of(look, space_id, "label")
    total = found.sum.model_copy(update={"label": found.sum.label.replace(space_id, label, 1)})
    return found.model_copy(update={"label": label, "sum": total})


@derived
def space_served(look: Look, space_id: str) -> tuple[Served, ...]:
    """Which points serve a space, with what share of it, at which rate."""
    if scored(look, space_id) is None:
        return ()
    storey_id, need = field_of(look, space_id, "storey_id"), field_of(look, space_id, "need")
    band = library().needs[need].band
    assert band is not None
    here = scene(look)
    inside = cells_of(here.building, here.grid(storey_id), storey_id)[space_id]
    return served_by(air_view(look, storey_id, band), inside, band)


@derived
def radio_row(look: Look, point_id: str, band: Band) -> RadioPlan | None:
    """One radio's plan, by names."""
    row = next((r for r in channel_plan(look, band).rows if r.point_id == point_id), None)
    if row is None:
        return None
    job = job_of(look)
    return row.model_copy(update={"label": named(job, row.label), "reason": named(job, row.reason)})


@derived
def radio_rows(look: Look) -> tuple[RadioPlan, ...]:
    """The plan of every radio, band by band, in the order of the points."""
    found = (radio_row(look, row.point_id, band) for band in BANDS for row in channel_plan(look, band).rows)
    return tuple(row for row in found if row is not None)


@derived
def airtime(look: Look) -> tuple[RadioLoad, ...]:
    """The airtime of every radio over the day."""
    return tuple(radio_load(look, row.point_id, row.band) for row in radio_rows(look) if row.on)


@derived
def served_parts(look: Look) -> dict[tuple[str, Band], tuple[Part, ...]]:
    """What each radio serves of the spaces with people."""
    return parts_by_radio({space_id: space_served(look, space_id) for space_id in peopled(look)})


@derived
def radio_parts(look: Look, point_id: str, band: Band) -> tuple[Part, ...]:
    """What one radio serves."""
    return served_parts(look).get((point_id, band), ())


def shared_parts(look: Look, point_id: str, band: Band) -> tuple[Part, ...]:
    """Return what else takes the air of a radio that hangs together with others: what they serve on this channel, and
    what goes over each hop on it.
    """
    hops = hops_on(look, band)
    group = next((group for group in turns(hops) if point_id in group), frozenset())
    others = tuple(
        part._replace(over="of another point in turn")
        for other in sorted(group - {point_id})
        for part in radio_parts(look, other, band)
    )
    over = tuple(
        part._replace(rate_mbps=max(hop.mbps, SLOWEST_MBPS), over="over a hop")
        for hop in hops
        if hop.child_id in group
        for served in sorted(behind(hops, hop.child_id))
        for on in BANDS
        for part in radio_parts(look, served, on)
    )
    return (*others, *over)


@derived
def radio_fixed(look: Look, point_id: str, band: Band) -> float:
    """The share of a radio's air that beacons and neighbours take."""
    row = radio_row(look, point_id, band)
    return fixed_share(job_of(look), row) if row is not None else 0.0


@derived
def radio_load(look: Look, point_id: str, band: Band) -> RadioLoad:
    """The airtime of one radio over the day."""
    row = radio_row(look, point_id, band)
    assert row is not None
    every = (*radio_parts(look, point_id, band), *shared_parts(look, point_id, band))
    asked = ((part, space_demand(look, part.space_id)) for part in every)
    parts = [(part, demand) for part, demand in asked if demand is not None]
    return load_of(row, radio_fixed(look, point_id, band), parts)


@bulky
def ways_along(look: Look, walk_id: str) -> Paths:
    """The paths from every point to every step of a walk."""
    job = job_of(look)
    walk = job.get(Walk, walk_id)
    places, _ = steps_of(job, walk)
    client = library().clients[walk.client_class]
    return paths(standing(look, walk.band), scene(look), walk.band, places, client)


@derived
def walked(look: Look, walk_id: str) -> Walked:
    """A walk, played."""
    job = job_of(look)
    walk = job.get(Walk, walk_id)
    along = ways_along(look, walk_id)
    named_points = replace(along, points=tuple(job.get(AccessPoint, point.id) for point in along.points))
    heard_there = powered(
        sending(look, walk.band), named_points, walk.band, library().clients[walk.client_class]
    )
    return play(job, scene(look), walk, heard=heard_there)


@derived
def air(look: Look) -> Air:
    """Everything of the air."""
    _factor(look)
    scores, lost = gathered(look, space_score, ordered_spaces(look))
    walks, stuck = gathered(look, walked, ids_of(look, Walk))
    rows = radio_rows(look)
    bands = tuple(plan.band for plan in (channel_plan(look, band) for band in BANDS) if plan.band is not None)
    return Air(
        scene(look),
        tuple(row for row in scores if row is not None),
        rows,
        bands,
        airtime(look),
        tuple(walks),
        (*lost, *stuck),
    )


def _factor(look: Look) -> None:
    """Factor the balances of all bands in use together: two threads on two are quicker."""
    factored(scene(look), [band for band in BANDS if _used(look, band)])


def _used(look: Look, band: Band) -> bool:
    job = sending(look, band)
    return bool(standing_on(job, band))


@derived
def ordered_spaces(look: Look) -> tuple[str, ...]:
    """The ids of all spaces, storey by storey from below, each in its own order."""
    return tuple(space.id for storey in building(look).storeys for space in building(look).spaces[storey.id])


def assess_air(job: Job) -> Air:
    """Return the air of a job, worked out anew."""
    return air(Memo(job).look)
