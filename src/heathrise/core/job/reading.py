"""What can be read of a job beside its elements themselves; shared by the job and by a view of it."""

from collections.abc import Mapping
from functools import cached_property
from typing import TYPE_CHECKING, Any, NamedTuple, TypeVar

from heathrise.core.job.air import AccessPoint, AirModel, Antenna, Calibration
from heathrise.core.job.brief import Brief, Practice, Site
from heathrise.core.job.buying import Ordering
from heathrise.core.job.drawing import OwnBuildUp, Storey
from heathrise.core.job.element import ElementBase, Point
from heathrise.core.job.fitting import Fitting
from heathrise.core.job.wiring import Equipment, InRack, Link, OnSheet, OwnModel, Rack
from heathrise.core.library import BuildUp, EquipmentModel, library

E = TypeVar("E", bound=ElementBase)
_NO_ID: dict[str, Any] = {"id": "00000000-0000-7000-8000-000000000000"}


class Spot(NamedTuple):
    """Where something stands: on which storey, where, and how high over its floor. [m]"""

    storey_id: str
    at: Point
    height_m: float


class JobReading:
    """Readings built on `of` and `by_id` alone, so that whoever watches those watches all of them."""

    if TYPE_CHECKING:

        @property
        def by_id(self) -> Mapping[str, Any]:
            """Every element by its id."""

    def of(self, cls: type[E]) -> tuple[E, ...]:
        """Return the elements of one class in their own order."""
        raise NotImplementedError

    def get(self, cls: type[E], element_id: str) -> E:
        """Return one element of a class. Raises KeyError."""
        element = self.by_id[element_id]
        if not isinstance(element, cls):
            raise KeyError(element_id)
        return element

    @cached_property
    def build_ups(self) -> dict[str, BuildUp]:
        """The library's build-ups with this job's own laid over them."""
        own = {e.code: e.as_build_up(self.site.domain) for e in self.of(OwnBuildUp)}
        return {**library().build_ups, **own} if own else library().build_ups

    @cached_property
    def patterns(self) -> dict[str, object]:
        """The library's antenna patterns with this job's own laid over them."""
        own = {e.code: e for e in self.of(Antenna)}
        return {**library().patterns, **own}

    @cached_property
    def equipment(self) -> dict[str, EquipmentModel]:
        """The library's models of equipment with this job's own laid over them."""
        own = {e.code: e.model for e in self.of(OwnModel)}
        return {**library().equipment, **own} if own else library().equipment

    @cached_property
    def site(self) -> Site:
        """The site's facts, or the defaults."""
        return self._single(Site)

    @cached_property
    def brief(self) -> Brief:
        """The brief, or the defaults."""
        return self._single(Brief)

    @cached_property
    def practice(self) -> Practice:
        """The house practice, or the defaults."""
        return self._single(Practice)

    @cached_property
    def ordering(self) -> Ordering:
        """What the firm decided of the order, or the defaults."""
        return self._single(Ordering)

    @cached_property
    def fitting(self) -> Fitting:
        """Who comes and when, or the defaults."""
        return self._single(Fitting)

    @cached_property
    def air_model(self) -> AirModel:
        """How the air is computed, or the defaults."""
        return self._single(AirModel)

    @cached_property
    def calibration(self) -> Calibration | None:
        """What survey points taught, None before any fit."""
        found = self.of(Calibration)
        return found[0] if found else None

    def _single(self, cls: type[E]) -> E:
        found = self.of(cls)
        return found[0] if found else cls(label=cls.ABOUT.stem, **_NO_ID)

    @cached_property
    def storeys(self) -> tuple[Storey, ...]:
        """The storeys, lowest first."""
        return tuple(sorted(self.of(Storey), key=lambda storey: storey.elevation_m))

    def model_of(self, element_id: str) -> EquipmentModel | None:
        """Return what an element with ports can do; None for one without any, as a rack."""
        element = self.by_id[element_id]
        if isinstance(element, AccessPoint | Equipment):
            return self.equipment[element.model]
        return None

    def rack_of(self, element_id: str) -> str | None:
        """Return the rack something is, or stands in; None for what stands elsewhere."""
        element = self.by_id[element_id]
        if isinstance(element, Rack):
            return element.id
        if isinstance(element, Equipment) and isinstance(element.place, InRack):
            return element.place.rack_id
        return None

    def spot(self, element_id: str) -> Spot:
        """Return where something stands: on the sheet, in its rack, or at the near end of its link."""
        element = self.by_id[element_id]
        if isinstance(element, Rack | AccessPoint):
            return Spot(element.storey_id, element.at, element.height_m)
        if not isinstance(element, Equipment):
            raise KeyError(element_id)
        place = element.place
        if isinstance(place, OnSheet):
            return Spot(place.storey_id, place.at, place.height_m)
        if isinstance(place, InRack):
            return self.spot(place.rack_id)
        return self.spot(self.get(Link, place.link_id).a.on)
