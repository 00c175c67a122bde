"""Ways without a cable, put into the job: a hop of a mesh, a repeater, a pair on the mains, a service from outside."""

from collections.abc import Callable

from heathrise.core.cabling.defaults import default_cable, next_label
from heathrise.core.cabling.ends import runs_of
from heathrise.core.cabling.runs import RunPlan
from heathrise.core.deriving import Look
from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import AccessPoint, End, Equipment, InLine, Job, Link, OnSheet, Spot
from heathrise.core.job.view import job_of
from heathrise.core.joining.case import Case
from heathrise.core.joining.choosing import NewId, cheapest, chooses
from heathrise.core.library import EquipmentModel, library
from heathrise.core.links.meshing import MeshNode, cabled_in, mesh_study, onto_channel
from heathrise.core.sums import Noun

# A socket, over the floor. [m]
_SOCKET_M = 0.3


@chooses("mesh")
def mesh(case: Case, _code: str, _run: Link, _plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """The point hangs on the one it hears best; both keep the channel they are on now."""
    thing, node = _hearing(case)
    link = _hop(thing, node, new_id)
    fed = _fed_at(case.job, thing, link, new_id)
    return (*_uncabled(case.job, thing), Put(element=link), *fed, *onto_channel(case.job, [node]))


@chooses("repeater")
def repeater(case: Case, code: str, _run: Link, _plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """A repeater in the point's place; its mains plug feeds it."""
    thing, node = _hearing(case)
    link = _hop(thing, node, new_id)
    kept = onto_channel(case.job, [node], {thing.id: _as(case, code, thing)})
    return (*_uncabled(case.job, thing), Put(element=link), *kept)


@chooses("powerline")
def powerline(case: Case, code: str, run: Link, _plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """Two adapters at sockets, one beside the rack and one beside the thing, a cord's length of cable at either end."""
    job, rack_id, model = case.job, _rack(case, run), _part(case, code, lambda m: m.mains is not None)
    near = _at(f"Mains adapter for {case.thing.label}, near", model, job.spot(rack_id), new_id)
    far = _at(f"Mains adapter for {case.thing.label}, far", model, job.spot(case.thing.id), new_id)
    pair = Link(
        id=new_id(),
        label=f"Mains to {case.thing.label}",
        medium="powerline",
        a=End(on=near.id),
        b=End(on=far.id),
    )
    to_near = _cable(job, rack_id, near, new_id, 0)
    onward = _cable(job, far.id, case.thing, new_id, 1)
    made = [near, far, pair, to_near, onward]
    puts = [Put(element=element) for element in made]
    return (*_uncabled(job, case.thing), *puts, *_fed_at(job, case.thing, onward, new_id))


@chooses("powerline-point")
def powerline_point(case: Case, code: str, run: Link, _plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """One adapter beside the rack, and one with an access point of its own in the point's place."""
    job, rack_id, thing = case.job, _rack(case, run), case.thing
    if not isinstance(thing, AccessPoint):
        raise EditError("only an access point can be one with a mains adapter")
    plain = _part(case, code, lambda m: m.mains is not None and not m.radiates)
    near = _at(f"Mains adapter for {thing.label}, near", plain, job.spot(rack_id), new_id)
    pair = Link(
        id=new_id(),
        label=f"Mains to {thing.label}",
        medium="powerline",
        a=End(on=near.id),
        b=End(on=thing.id),
    )
    to_near = _cable(job, rack_id, near, new_id, 0)
    made = (near, _as(case, code, thing), pair, to_near)
    return (*_uncabled(job, thing), *(Put(element=element) for element in made))


@chooses("cellular")
@chooses("satellite")
def service(case: Case, code: str, _run: Link, _plan: RunPlan, new_id: NewId) -> tuple[Operation, ...]:
    """A router that brings a service of its own, beside what it serves."""
    job = case.job
    model = _part(case, code, lambda m: m.forwards == "route")
    beside = job.spot(case.thing.id)
    router = _at(f"Router of {case.thing.label}", model, beside, new_id)
    onward = _cable(job, router.id, case.thing, new_id, 0)
    puts = (Put(element=router), Put(element=onward))
    return (*_uncabled(job, case.thing), *puts, *_fed_at(job, case.thing, onward, new_id))


class Mesh(Noun):
    """Every point without a cable; how many have one, and whether any could be hung by one press."""

    nodes: tuple[MeshNode, ...]
    wired: int
    can_hang: bool


def mesh_of(look: Look) -> Mesh:
    """Return the mesh of a job: what was decided, and what is proposed for the rest."""
    nodes = mesh_study(look)
    wired = len(cabled_in(job_of(look)) & {point.id for point in job_of(look).of(AccessPoint)})
    return Mesh(nodes=nodes, wired=wired, can_hang=any(n.link_id is None and n.holds for n in nodes))


def mesh_of_all(look: Look, new_id: NewId) -> tuple[Operation, ...]:
    """Return what hangs every point without a cable on the one it would best hang on, all on their roots' channels.

    Raises
    ------
    EditError
        If there is none that could.
    """
    job = job_of(look)
    proposed = [node for node in mesh_study(look) if node.link_id is None and node.holds]
    if not proposed:
        raise EditError("no access point without a cable hears another well enough to hang on it")
    made: list[Operation] = []
    for node in proposed:
        point = job.get(AccessPoint, node.node_id)
        link = _hop(point, node, new_id)
        made += [Put(element=link), *_fed_at(job, point, link, new_id)]
    return (*made, *onto_channel(job, proposed))


def _hearing(case: Case) -> tuple[AccessPoint, MeshNode]:
    if not isinstance(case.thing, AccessPoint) or case.node is None or case.node.parent_id is None:
        raise EditError("it hears no access point that it could hang on")
    return case.thing, case.node


def _hop(thing: AccessPoint, node: MeshNode, new_id: NewId) -> Link:
    assert node.parent_id is not None
    label = f"{thing.label} by air"
    return Link(id=new_id(), label=label, medium="mesh", a=End(on=node.parent_id), b=End(on=thing.id))


def _uncabled(job: Job, thing: AccessPoint | Equipment) -> tuple[Remove, ...]:
    """Return what takes every cable to a thing away, with what stands on its way."""
    return tuple(Remove(id=run.id) for run in runs_of(job) if run.b.on == thing.id and run.id in job.by_id)


def _fed_at(job: Job, thing: AccessPoint | Equipment, link: Link, new_id: NewId) -> tuple[Put, ...]:
    """Return the injector that feeds a thing where no cable from a rack does; none for one that asks for no power."""
    takes = job.equipment[thing.model].takes_class
    if not takes:
        return ()
    model = cheapest(job, lambda m: m.feeds_through and not m.needs_dc and m.gives_class >= takes)
    place = InLine(link_id=link.id)
    return (
        Put(element=Equipment(id=new_id(), label=f"Injector of {thing.label}", model=model, place=place)),
    )


def _rack(case: Case, run: Link) -> str:
    rack_id = case.job.rack_of(run.a.on)
    if rack_id is None:
        raise EditError("its run begins at no rack")
    return rack_id


def _part(case: Case, code: str, can: Callable[[EquipmentModel], bool]) -> str:
    """Return the model among a way's parts that can do something. Raises EditError for none."""
    models = (part.model for part in library().ways[code].parts if part.model)
    found = next((model for model in models if can(case.job.equipment[model])), None)
    if found is None:
        raise EditError("the library has no equipment for this way")
    return found


def _as(case: Case, code: str, thing: AccessPoint) -> AccessPoint:
    """Return an access point as the model that a way takes; its radios are that model's."""
    model = _part(case, code, lambda m: m.radiates)
    return thing.model_copy(update={"model": model, "radios": (), "antenna": None, "mount": "wall"})


def _at(label: str, model: str, beside: Spot, new_id: NewId) -> Equipment:
    """Return a unit at the socket nearest to something: at its place in plan, as the drawing knows no sockets."""
    place = OnSheet(storey_id=beside.storey_id, at=beside.at, height_m=_SOCKET_M, mount=None)
    return Equipment(id=new_id(), label=label, model=model, place=place)


def _cable(job: Job, from_id: str, thing: AccessPoint | Equipment, new_id: NewId, ahead: int) -> Link:
    return Link(
        id=new_id(),
        label=next_label(job, ahead),
        product=default_cable(job, thing),
        a=End(on=from_id),
        b=End(on=thing.id),
    )
