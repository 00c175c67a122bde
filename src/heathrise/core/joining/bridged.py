"""A house reached by a bridge: two units on its walls, a rack of its own behind the far one, and all of it taken back."""

from collections.abc import Callable
from dataclasses import dataclass

from heathrise.core.cabling.defaults import default_cable, next_label
from heathrise.core.cabling.ends import runs_of
from heathrise.core.edit import EditError, Operation, Put, Remove
from heathrise.core.job import (
    AccessPoint,
    End,
    Equipment,
    InLine,
    InRack,
    Job,
    Link,
    OnSheet,
    Point,
    Rack,
    Spot,
)
from heathrise.core.library import EquipmentModel, library, limit
from heathrise.core.links.span import Span
from heathrise.core.site.building import Building

NewId = Callable[[], str]


def bridge_into(job: Job, of: Building, thing: AccessPoint | Equipment) -> Link | None:
    """Return the bridge that a thing's house is reached by; None where it is reached otherwise."""
    house = of.house_at(job.spot(thing.id).at)
    laid = next((link for link in runs_of(job) if link.b.on == thing.id), None)
    rack = job.rack_of(laid.a.on) if laid else None
    if house is None or rack is None or of.house_at(job.spot(rack).at) != house:
        return None
    units = {run.b.on for run in runs_of(job) if job.rack_of(run.a.on) == rack}
    return next((link for link in job.of(Link) if link.medium == "bridge" and link.b.on in units), None)


def rack_before(job: Job, bridge: Link) -> str | None:
    """Return the rack that the near unit of a bridge hangs on."""
    run = next((link for link in runs_of(job) if link.b.on == bridge.a.on), None)
    return job.rack_of(run.a.on) if run else None


@dataclass(frozen=True)
class Bridging:
    """What a bridge into a house is made of: the span it looks through, its units' model, the rack it comes from."""

    job: Job
    of: Building
    span: Span
    thing: AccessPoint | Equipment
    house: str
    model: str
    rack_id: str
    new_id: NewId

    def operations(self, fresh: Link | None) -> tuple[Operation, ...]:
        """Return what makes it, in one edit: units, the link between them, a rack with a switch, the runs to and
        behind it. `fresh` is the run to the thing where none was laid.

        Raises
        ------
        EditError
            If the library has no rack or no switch that feeds what stands in the house.
        """
        near_spot = self.job.spot(self.rack_id)
        label = self.thing.label
        served = self._within()
        here = served if self.thing in served else [*served, self.thing]
        inside = self.job.spot(self.thing.id)
        near = self._unit(f"Bridge to {label}, near end", self.span.a, self.span.masts.from_m, near_spot)
        far = self._unit(f"Bridge to {label}, far end", self.span.b, self.span.masts.to_m, inside)
        rack = self._rack(inside)
        switch = self._switch(rack, [far, *here])
        air = Link(
            id=self.new_id(),
            label=f"Bridge to {label}",
            medium="bridge",
            a=End(on=near.id),
            b=End(on=far.id),
        )
        runs = (self._run(near, self.rack_id, 0), self._run(far, rack.id, 1))
        first = [] if fresh is None else [fresh.model_copy(update={"a": End(on=rack.id)})]
        made = [near, far, rack, switch, air, *runs, *first]
        return (*(Put(element=element) for element in made), *self._rehomed(rack.id))

    def _within(self) -> list[AccessPoint | Equipment]:
        """Return what stands in the house and reaches the network by a cable."""
        served = {link.b.on for link in runs_of(self.job)}
        things: list[AccessPoint | Equipment] = [*self.job.of(AccessPoint), *self.job.of(Equipment)]
        return [
            thing
            for thing in things
            if thing.id in served
            and (isinstance(thing, AccessPoint) or isinstance(thing.place, OnSheet))
            and self.of.house_at(self.job.spot(thing.id).at) == self.house
        ]

    def _unit(self, label: str, at: Point, height_m: float, beside: Spot) -> Equipment:
        """Return a unit on the wall, on the storey of what it is wired to where that is not above it."""
        floor = self.of.storey(beside.storey_id).elevation_m
        place = OnSheet(
            storey_id=beside.storey_id, at=at, height_m=max(0.5, round(height_m - floor, 2)), mount="wall"
        )
        return Equipment(id=self.new_id(), label=label, model=self.model, place=place)

    def _rack(self, inside: Spot) -> Rack:
        """Return the cheapest rack, on the wall where the cable comes in."""
        model = cheapest_wall_rack()
        taken = {rack.label for rack in self.job.of(Rack)}
        label = next(f"TR{n}" for n in range(1, 10_000) if f"TR{n}" not in taken)
        at = _towards(self.span.b, inside.at, limit("links.rack_in_m"))
        return Rack(id=self.new_id(), label=label, model=model, storey_id=inside.storey_id, at=at)

    def _switch(self, rack: Rack, fed: list[AccessPoint | Equipment]) -> Equipment:
        """Return the cheapest switch that has a port for everything and the power for what asks for it."""
        models = [self.job.equipment[thing.model] for thing in fed]
        code = cheapest_switch(self.job, [model.takes_class for model in models])
        taken = {thing.label for thing in self.job.of(Equipment)}
        label = next(f"SW{n}" for n in range(1, 10_000) if f"SW{n}" not in taken)
        return Equipment(id=self.new_id(), label=label, model=code, place=InRack(rack_id=rack.id))

    def _run(self, unit: Equipment, rack_id: str, ahead: int) -> Link:
        return Link(
            id=self.new_id(),
            label=next_label(self.job, ahead),
            product=default_cable(self.job, unit),
            a=End(on=rack_id),
            b=End(on=unit.id),
        )

    def _rehomed(self, rack_id: str) -> list[Operation]:
        """Return what hangs everything in the house on its own rack: of copper, with nothing left on the way."""
        here = {thing.id: thing for thing in self._within()}
        found: list[Operation] = []
        for link in runs_of(self.job):
            if link.b.on in here:
                product = link.product
                if link.medium != "copper" or product is None:
                    product = default_cable(self.job, here[link.b.on])
                changes = {
                    "a": End(on=rack_id),
                    "medium": "copper",
                    "product": product,
                    "there": False,
                    "pins": (),
                }
                found.append(Put(element=link.model_copy(update=changes)))
                found += [Remove(id=box.id) for box in boxes_on(self.job, link.id)]
        return found


def boxes_on(job: Job, run_id: str) -> tuple[Equipment, ...]:
    """Return what stands on a run's way."""
    return tuple(
        thing
        for thing in job.of(Equipment)
        if isinstance(thing.place, InLine) and thing.place.link_id == run_id
    )


def taken_back(job: Job, bridge: Link, rack_id: str) -> tuple[Operation, ...]:
    """Return what takes a bridge away, and with it the rack behind it and what joins ports there: what hangs on that
    goes back to another rack. A rack that somebody put anything else in stays as it is.
    """
    units = [Remove(id=bridge.a.on), Remove(id=bridge.b.on)]
    run = next((link for link in runs_of(job) if link.b.on == bridge.b.on), None)
    behind = job.rack_of(run.a.on) if run else None
    inside = [thing for thing in job.of(Equipment) if behind is not None and job.rack_of(thing.id) == behind]
    if behind is None or not all(job.equipment[thing.model].joins for thing in inside):
        return tuple(units)
    back = [
        Put(element=link.model_copy(update={"a": End(on=rack_id)}))
        for link in runs_of(job)
        if job.rack_of(link.a.on) == behind and link.b.on != bridge.b.on
    ]
    return (*back, *units, Remove(id=behind))


def cheapest_wall_rack() -> str:
    """Return the cheapest rack that hangs on a wall and closes."""
    racks = {code: model for code, model in library().racks.items() if model.stands == "wall"}
    return min(racks, key=lambda code: racks[code].price or 0.0)


def cheapest_switch(job: Job, classes: list[int], uplinks: int = 0) -> str:
    """Return the cheapest switch with a port for each of these PoE classes, 0 for none, and so many uplinks besides.

    Raises
    ------
    EditError
        If the library has none.
    """
    fits = [
        (model.price or 0.0, code)
        for code, model in job.equipment.items()
        if model.forwards == "switch"
        and model.height_u > 0
        and _has_ports(model, classes)
        and sum(port.group.uplink for port in model.port_list) >= uplinks
    ]
    if not fits:
        raise EditError("the library has no switch that feeds everything there")
    return min(fits)[1]


def _has_ports(model: EquipmentModel, classes: list[int]) -> bool:
    """Whether a model has a port for each, the most asking on the most giving, and the power for all by class."""
    gives = sorted(
        (port.group.gives_class for port in model.port_list if not port.group.uplink), reverse=True
    )
    asks = sorted(classes, reverse=True)
    reserved_w = sum(library().poe_class(poe_class).source_w for poe_class in classes if poe_class)
    within = reserved_w <= model.budget_w * (1 - limit("power.free_share"))
    return within and len(gives) >= len(asks) and all(g >= a for g, a in zip(gives, asks, strict=False))


def _towards(a: Point, b: Point, by_m: float) -> Point:
    """Return the place so far from one on the way to another."""
    dx, dy = b.x_m - a.x_m, b.y_m - a.y_m
    far = max(1e-9, (dx * dx + dy * dy) ** 0.5)
    share = min(1.0, by_m / far)
    return Point(x_m=round(a.x_m + share * dx, 2), y_m=round(a.y_m + share * dy, 2))
