"""Racks, derived one by one."""

from heathrise.core.cabling.derived import runs
from heathrise.core.deriving import Look, derived
from heathrise.core.job import AccessPoint, Rack
from heathrise.core.job.view import ids_of, job_of
from heathrise.core.power.along import FeedPath, feed_path
from heathrise.core.power.derived import feeds
from heathrise.core.racks.care import RackPlan, rack_plan_of
from heathrise.core.racks.elevation import Elevation, elevation_of
from heathrise.core.racks.patching import PatchList, patches_of
from heathrise.core.racks.recording import RecordingPlan, recording_of
from heathrise.core.racks.standby import Standby, standby_of
from heathrise.core.site.derived import building
from heathrise.core.sums import Noun
from heathrise.core.switching.derived import ports
from heathrise.core.switching.failing import AirLeft
from heathrise.core.switching.loads import SwitchLoad, switch_load
from heathrise.core.switching.too_many import Unfed, every_unfed


class Racks(Noun):
    """Every rack with what is asked of its place."""

    racks: tuple[RackPlan, ...]


class Loads(Noun):
    """Every switch with its power."""

    switches: tuple[SwitchLoad, ...]


class Patches(Noun):
    """Every rack's patches."""

    racks: tuple[PatchList, ...]


class Recordings(Noun):
    """Every recorder and storage."""

    things: tuple[RecordingPlan, ...]


class Alone(Noun):
    """What is left of the air in one way of running alone."""

    code: str
    spaces_lost: tuple[str, ...]


class StandbyOf(Noun):
    """One rack alone: its battery, and what of the air each way leaves."""

    rack: Standby
    air: tuple[Alone, ...]


class Standbys(Noun):
    """Every rack alone."""

    racks: tuple[StandbyOf, ...]


@derived
def elevation(look: Look, rack_id: str) -> Elevation:
    """What stands at which unit of a rack."""
    return elevation_of(job_of(look), rack_id)


@derived
def rack_plan(look: Look, rack_id: str) -> RackPlan:
    """A rack and what is asked of its place."""
    return rack_plan_of(job_of(look), building(look), ports(look), feeds(look), rack_id)


def rack_plans(look: Look) -> tuple[RackPlan, ...]:
    """Return every rack, in their own order."""
    return tuple(rack_plan(look, rack_id) for rack_id in ids_of(look, Rack))


def racks(look: Look) -> Racks:
    """Return every rack, in their own order."""
    return Racks(racks=rack_plans(look))


@derived
def standby(look: Look, rack_id: str) -> Standby:
    """How long a rack runs alone."""
    return standby_of(job_of(look), ports(look), feeds(look), rack_id)


def all_standby(look: Look) -> tuple[Standby, ...]:
    """Return how long each rack runs alone, in their own order."""
    return tuple(standby(look, rack_id) for rack_id in ids_of(look, Rack))


def standbys(look: Look) -> Standbys:
    """Return every rack alone, and what of the air is left in each way."""
    air = AirLeft(look)
    return Standbys(racks=tuple(_alone(look, air, rack_id) for rack_id in ids_of(look, Rack)))


def _alone(look: Look, air: AirLeft, rack_id: str) -> StandbyOf:
    found = standby(look, rack_id)
    points = {point.id for point in job_of(look).of(AccessPoint)}
    left = []
    for way in found.ways:
        spaces = air.without(frozenset(way.lost_ids) & points)
        left.append(Alone(code=way.code, spaces_lost=tuple(one.label for one in spaces if one.lost)))
    return StandbyOf(rack=found, air=tuple(left))


@derived
def loads(look: Look) -> Loads:
    """Every switch with its power, of those that feed anything."""
    job, found = job_of(look), ports(look)
    return Loads(
        switches=tuple(
            switch_load(job, found, feeds(look), budget) for budget in found.budgets if budget.budget_w
        )
    )


@derived
def recording(look: Look) -> tuple[RecordingPlan, ...]:
    """Every recorder and storage, and what it must hold."""
    return recording_of(job_of(look), ports(look))


@derived
def patches(look: Look) -> Patches:
    """Every rack's patches."""
    job = job_of(look)
    return Patches(
        racks=tuple(patches_of(job, ports(look), elevation(look, rack_id)) for rack_id in ids_of(look, Rack))
    )


def path_of_feed(look: Look, run_id: str) -> FeedPath:
    """Return power along one run. Raises KeyError for a run that feeds nothing."""
    fed = feeds(look).by_id[run_id]
    port = ports(look).by_run.get(run_id)
    name = f"{port.switch_label}/{port.port}" if port else ""
    return feed_path(job_of(look), runs(look).by_id[run_id], fed, name, port.poe_class if port else 0)


def unfed(look: Look) -> Unfed:
    """Return every device that is not fed, with its ways out."""
    return every_unfed(look.source, runs(look), feeds(look), ports(look))
