"""What stands at the ends of a run, asked by what it can do: its speed, its power, its loop."""

from collections import defaultdict

from heathrise.core.job import PULLED, AccessPoint, Equipment, InLine, InRack, Job, Link, OnSheet
from heathrise.core.library import EquipmentModel
from heathrise.core.rule import Place

# A run between racks, or to anything that joins ports, is planned at this speed.
RACK_MBPS = 10_000


def runs_of(job: Job) -> tuple[Link, ...]:
    """Return the links that have a way through the building, in their own order."""
    return tuple(link for link in job.of(Link) if link.medium in PULLED)


def cords_of(job: Job) -> tuple[Link, ...]:
    """Return the cords that join a thing in a rack to a port of the same rack: they have no way through the building."""
    cords = (link for link in job.of(Link) if link.medium == "cord")
    return tuple(cord for cord in cords if job.rack_of(cord.a.on) == job.rack_of(cord.b.on) is not None)


def racked_ends(job: Job) -> tuple[Equipment, ...]:
    """Return what stands in a rack and reaches the network by a port of a switch: recorders, storage, controllers."""
    found = []
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if isinstance(thing.place, InRack) and model.links_up and not model.joins and not model.lands_cables:
            found.append(thing)
    return tuple(found)


def hung_on(job: Job) -> frozenset[str]:
    """Return the ids of what hangs on another point's air or on the mains: no cable is wanted there."""
    return frozenset(link.b.on for link in job.of(Link) if link.medium in ("mesh", "powerline"))


def label_of(job: Job, element_id: str) -> str:
    """Return the label of what an end is on."""
    return job.by_id[element_id].label


def place_of(job: Job, element_id: str) -> Place:
    """Return where something is, as findings point at it."""
    spot = job.spot(element_id)
    return Place(storey_id=spot.storey_id, at=spot.at)


def speed_needed(job: Job, element_id: str) -> int:
    """Return the speed of what a run goes to. [Mb/s]"""
    model = job.model_of(element_id)
    return RACK_MBPS if model is None or model.joins else model.uplink_mbps


def poe_class_needed(job: Job, element_id: str) -> int:
    """Return the PoE class of what a run goes to; 0 when it asks for none."""
    model = job.model_of(element_id)
    return model.takes_class if model is not None else 0


def device_draw(job: Job, element_id: str) -> tuple[float, float]:
    """Return (maximum, typical) draw of what a run feeds, at its end. [W]"""
    model = job.model_of(element_id)
    return (model.max_w, model.typical_w) if model is not None else (0.0, 0.0)


def hangs_high(job: Job, element_id: str) -> bool:
    """Return whether a run ends under a ceiling or high on a wall, not at an outlet or a rack."""
    element = job.by_id[element_id]
    if isinstance(element, AccessPoint):
        return True
    if not isinstance(element, Equipment) or not isinstance(element.place, OnSheet):
        return False
    mounts = job.equipment[element.model].mounts
    mount = element.place.mount or (mounts[0] if mounts else "wall")
    return mount not in ("outlet", "desk")


def feeds_on(job: Job) -> dict[str, tuple[Equipment, EquipmentModel]]:
    """Return what feeds a run on its way, by the run's id: its injector."""
    found = {}
    for thing in job.of(Equipment):
        model = job.equipment[thing.model]
        if isinstance(thing.place, InLine) and model.feeds_through:
            found[thing.place.link_id] = (thing, model)
    return found


def models_on(job: Job) -> dict[str, list[EquipmentModel]]:
    """Return the models of everything that stands on a run's way, by the run's id."""
    found: dict[str, list[EquipmentModel]] = defaultdict(list)
    for thing in job.of(Equipment):
        if isinstance(thing.place, InLine):
            found[thing.place.link_id].append(job.equipment[thing.model])
    return found


def spares_of(job: Job) -> frozenset[str]:
    """Return runs beyond the ports of what they go to: tested and patched, but unfed.

    Ends whose port is decided take theirs first, then runs that were given a port at the rack; the others
    follow in the order of their runs. A rack has as many ports as stand in it; copper between two racks that fibre
    joins is for what comes, unless a port was decided for it.
    """
    to: dict[str, list[Link]] = defaultdict(list)
    for link in runs_of(job):
        to[link.b.on].append(link)
    spares: set[str] = set()
    for element_id, links in to.items():
        model = job.model_of(element_id)
        if model is not None and not model.joins:
            decided = [link for link in links if link.b.port is not None]
            open_ends = sorted(
                (link for link in links if link.b.port is None), key=lambda link: link.a.port is None
            )
            room = max(0, len(model.links_up) - len(decided))
            spares |= {link.id for link in open_ends[room:]}
        elif model is None:
            spares |= _beside_fibre(job, links)
    return frozenset(spares)


def _beside_fibre(job: Job, links: list[Link]) -> set[str]:
    """Return the copper that ends at a rack and starts at another which fibre joins to it."""
    by_light = {job.rack_of(link.a.on) for link in links if link.medium == "fibre"}
    return {
        link.id
        for link in links
        if link.medium == "copper" and link.a.port is None and job.rack_of(link.a.on) in by_light
    }
