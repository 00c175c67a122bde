"""Building models (IFC) in: storeys, walls with thickness and material, doors, windows, spaces."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial
from itertools import pairwise
from typing import Any

import ifcopenshell
import ifcopenshell.geom
import ifcopenshell.util.element as elements
import numpy as np
import shapely
from ifcopenshell.util import placement, unit
from numpy.typing import NDArray
from shapely.geometry import MultiPoint, Polygon

from heathrise.core.job import Point
from heathrise.core.library import limit
from heathrise.core.site.loops import mended, outline
from heathrise.core.site.proposal import (
    BODY,
    OpeningKind,
    Proposal,
    ProposedOpening,
    ProposedSpace,
    ProposedStorey,
    ProposedWall,
    Skipped,
)
from heathrise.core.site.sketch import NewId, sanity, usual_build_up
from heathrise.core.site.tracing import Traced, carried
from heathrise.exchange.ifcshapes import build_up_of, curve_points, profile_corners
from heathrise.exchange.unreadable import Progress, Unreadable, quiet

Floats = NDArray[np.float64]
Entity = Any
_USUAL_HEIGHT_M = 3.0
# Storeys nearer than this are one; walls that stand higher than this above the last begin a new one. [m]
_SAME_LEVEL_M, _NEXT_LEVEL_M = 0.3, 1.8


@dataclass
class _Level:
    """What is gathered of one storey."""

    label: str
    elevation_m: float
    walls: list[ProposedWall] = field(default_factory=list)
    openings: list[ProposedOpening] = field(default_factory=list)
    spaces: list[ProposedSpace] = field(default_factory=list)
    heights_m: list[float] = field(default_factory=list)
    slab: str | None = None
    found: list["_Wall"] = field(default_factory=list)


@dataclass
class _Wall:
    """A wall as it was found: its entity, its centre line as chords, its thickness and what it is made of."""

    entity: Entity
    line: Floats
    thickness_m: float | None
    build_up: str | None


# The last line of every exchange file. Source: ISO 10303-21, 5.3.
_END = b"END-ISO-10303-21"


def read_ifc(body: bytes, new_id: NewId, progress: Progress = quiet) -> Proposal:
    """Return the building of an IFC file, plan coordinates from its corner, y down.

    Raises
    ------
    Unreadable
        If it is no IFC file.
    """
    progress(0.05, "opening the model")
    if body.lstrip()[:9] == b"ISO-10303" and _END not in body[-4096:]:
        raise Unreadable(
            "the model is cut short: its last line is missing", "Send it again, or export it once more"
        )
    try:
        model = ifcopenshell.file.from_string(body.decode("utf-8", "replace"))
        has_project = bool(model.by_type("IfcProject"))
    except Exception as error:  # the parser raises kinds of its own for broken files
        raise Unreadable(
            f"the file is no IFC model, or is cut off: {str(error)[:120]}",
            "Export it again as IFC 2x3 or IFC 4",
        ) from error
    if not has_project:
        raise Unreadable("the file is no IFC model: it has no project", "Export it again as IFC 2x3 or IFC 4")
    try:
        reader = _Reader(model, new_id, progress)
    except DAMAGED as error:
        raise Unreadable(
            "the model's units or storeys are damaged", "Export it again as IFC 2x3 or IFC 4"
        ) from error
    return reader.read()


# A damaged reference makes an attribute of the wrong type, which shows as any of these.
DAMAGED = (ArithmeticError, AssertionError, AttributeError, LookupError, RuntimeError, TypeError, ValueError)


class _Reader:
    """Gathers one model."""

    def __init__(self, model: ifcopenshell.file, new_id: NewId, progress: Progress):
        self.model = model
        self.new_id = new_id
        self.progress = progress
        self.scale = float(unit.calculate_unit_scale(model))
        self.skipped: dict[tuple[str, str], int] = defaultdict(int)
        self.notes: list[str] = []
        self.levels = self._levels()
        self.zero: Floats | None = None
        self.placements: dict[int, Floats] = {}
        self.shapes = ifcopenshell.geom.settings()

    def read(self) -> Proposal:
        walls = [w for kind in ("IfcWall", "IfcCurtainWall") for w in self.model.by_type(kind)]
        for number, wall in enumerate(walls):
            if number % 20 == 0:
                self.progress(
                    0.1 + 0.6 * number / max(len(walls), 1), f"reading wall {number} of {len(walls)}"
                )
            self._whole(wall, self._wall)
        for level in self._each_level():
            self._stand(level)
        self.progress(0.72, "reading doors and windows that stand alone")
        for kind in ("IfcDoor", "IfcWindow"):
            for filling in self.model.by_type(kind):
                if not filling.FillsVoids:
                    self._whole(filling, self._loose)
        self.progress(0.75, "reading spaces")
        for space in self.model.by_type("IfcSpace"):
            self._whole(space, self._space)
        for slab in self.model.by_type("IfcSlab"):
            self._whole(slab, self._slab)
        return self._proposal()

    def _whole(self, entity: Entity, read: Callable[[Entity], None]) -> None:
        """Read one element; one that is damaged is left out and named."""
        try:
            read(entity)
        except Unreadable:
            raise
        except DAMAGED:
            self.skipped[entity.is_a(), "it is damaged"] += 1

    def _levels(self) -> dict[int, _Level]:
        found: dict[int, _Level] = {}
        for storey in self.model.by_type("IfcBuildingStorey"):
            at = (
                placement.get_local_placement(storey.ObjectPlacement)[2, 3] if storey.ObjectPlacement else 0.0
            )
            raised = float(storey.Elevation if storey.Elevation is not None else at) * self.scale
            # Wings of one building may each have a storey at the same level: here they are one.
            same = next(
                (level for level in found.values() if abs(level.elevation_m - raised) < _SAME_LEVEL_M), None
            )
            if same is not None:
                self.notes.append(
                    f"Storeys {same.label} and {storey.Name} lie at one level; they were made one."
                )
            found[storey.id()] = same or _Level((storey.Name or f"Storey {len(found)}")[:80], raised)
        if not found:
            found = self._levels_by_height()
        return found

    def _each_level(self) -> list[_Level]:
        """Return the levels, lowest first, each once however many storeys of the model lie on it."""
        once = {id(level): level for level in self.levels.values()}
        return sorted(once.values(), key=lambda level: level.elevation_m)

    def _levels_by_height(self) -> dict[int, _Level]:
        """Return levels by how high walls stand, for a model that has no storeys."""
        walls = self.model.by_type("IfcWall")
        heights = sorted(
            float(placement.get_local_placement(w.ObjectPlacement)[2, 3]) * self.scale
            if w.ObjectPlacement
            else 0.0
            for w in walls
        )
        levels: list[float] = []
        for height in heights:
            if not levels or height - levels[-1] > _NEXT_LEVEL_M:
                levels.append(height)
        if len(levels) < 2:
            self.notes.append("The model has no storeys; everything was put on one, called Ground.")
            return {0: _Level("Ground", levels[0] if levels else 0.0)}
        self.notes.append(f"The model has no storeys; {len(levels)} were made by how high its walls stand.")
        # Keys below zero are of no entity.
        return {-n: _Level("Ground" if n == 0 else f"Level {n}", at) for n, at in enumerate(levels)}

    def _level(self, entity: Entity) -> _Level:
        container = elements.get_container(entity)
        if container is None:
            container = elements.get_aggregate(entity)
        if container is not None and container.id() in self.levels:
            return self.levels[container.id()]
        if min(self.levels) < 0 and getattr(entity, "ObjectPlacement", None) is not None:
            height = float(self._matrix(entity)[2, 3]) * self.scale
            return min(self.levels.values(), key=lambda level: abs(level.elevation_m - height))
        if len(self.levels) > 1:
            self.skipped["element without a storey", "it was put on the lowest"] += 1
        return min(self.levels.values(), key=lambda level: level.elevation_m)

    def _wall(self, wall: Entity) -> None:
        layers = self._layers(wall)
        thickness = sum(mm for _, mm in layers) / 1000 or None
        axis = self._axis(wall)
        if axis is None:
            axis, width = self._footprint(wall)
            thickness = thickness or width
        elif thickness is None:
            thickness = self._footprint(wall)[1]
        if axis is None:
            self.skipped[wall.is_a(), "it has no shape that can be read"] += 1
        elif np.hypot(*np.diff(axis, axis=0).T).sum() < 0.01:
            self.skipped[wall.is_a(), "it has no length"] += 1
        else:
            made_of = build_up_of(layers) or usual_build_up(thickness)
            self._level(wall).found.append(_Wall(wall, axis, thickness, made_of))

    def _stand(self, level: _Level) -> None:
        """Put the walls of a level up: ends carried to the centre lines they meet, then their openings."""
        pieces = [
            (found, a, b)
            for found in level.found
            for a, b in pairwise(found.line)
            if np.hypot(*(b - a)) > 0.005
        ]
        met = carried([Traced((*a, *b), found.thickness_m) for found, a, b in pieces])
        stood: dict[int, list[tuple[ProposedWall, Floats]]] = defaultdict(list)
        for (found, _, _), traced in zip(pieces, met, strict=True):
            ends = np.array(traced.ends_m).reshape(2, 2)
            made = ProposedWall(
                id=self.new_id(),
                a=_at(ends[0]),
                b=_at(ends[1]),
                thickness_m=None if found.thickness_m is None else round(min(found.thickness_m, 3.0), 3),
                build_up=found.build_up,
                label=(found.entity.Name or "")[:60],
            )
            if (made.a.x_m, made.a.y_m) != (made.b.x_m, made.b.y_m):
                level.walls.append(made)
                stood[id(found)].append((made, ends))
        for found in level.found:
            for relation in getattr(found.entity, "HasOpenings", None) or ():
                self._whole(relation, partial(self._void, stood[id(found)], level))

    def _void(self, walls: Sequence[tuple[ProposedWall, Floats]], level: _Level, relation: Entity) -> None:
        """Cut an opening into the chord of its wall that it lies in."""
        if not walls:
            return
        opening = relation.RelatedOpeningElement
        corners = self._corners(opening)
        if corners is None:
            self.skipped[opening.is_a(), "its shape cannot be read"] += 1
            return
        middle = shapely.Point(corners[:, :2].mean(axis=0))
        wall, axis = min(walls, key=lambda one: shapely.LineString(one[1]).distance(middle))
        self._opening(opening, corners, wall, axis, level)

    def _loose(self, filling: Entity) -> None:
        """Put a door or window that fills no opening into the wall it stands in."""
        level = self._level(filling)
        matrix = self._matrix(filling)
        wide = float(filling.OverallWidth or 0) * self.scale
        high = float(filling.OverallHeight or 0) * self.scale
        if not level.walls or wide <= 0:
            self.skipped[filling.is_a(), "it fills no opening and says no width"] += 1
            return
        ends = np.array([[0, 0, 0, 1], [wide / self.scale, 0, 0, 1]]) @ matrix.T
        flat = self._near(np.column_stack([ends[:, 0], -ends[:, 1]]) * self.scale)
        middle = shapely.Point(flat.mean(axis=0))
        lines = [shapely.LineString([(w.a.x_m, w.a.y_m), (w.b.x_m, w.b.y_m)]) for w in level.walls]
        index = int(np.argmin([line.distance(middle) for line in lines]))
        if lines[index].distance(middle) > (level.walls[index].thickness_m or 0.2) / 2 + 0.2:
            self.skipped[filling.is_a(), "it stands in no wall"] += 1
            return
        start, stop = sorted(lines[index].project(shapely.Point(p)) for p in flat)
        sill = max(0.0, float(matrix[2, 3]) * self.scale - level.elevation_m)
        kind: OpeningKind = "window" if filling.is_a("IfcWindow") else "door"
        self._cut(level, level.walls[index], kind, start, stop, sill, high or 2.1)

    def _layers(self, wall: Entity) -> list[tuple[str, float]]:
        """Return (material name, thickness_mm) from the element's layer set."""
        material = elements.get_material(wall, should_skip_usage=True)
        if material is None:
            return []
        if material.is_a("IfcMaterialLayerSet"):
            return [
                (
                    (layer.Material.Name if layer.Material else "") or "",
                    float(layer.LayerThickness) * self.scale * 1000,
                )
                for layer in material.MaterialLayers
            ]
        return [(material.Name, 0.0)] if material.is_a("IfcMaterial") else []

    def _axis(self, wall: Entity) -> Floats | None:
        """Return the two ends of the wall's axis line in metres on the sheet."""
        body = wall.Representation
        lines = [r for r in (body.Representations if body else ()) if r.RepresentationIdentifier == "Axis"]
        for line in lines:
            for item in line.Items:
                points = curve_points(item)
                if len(points) >= 2:
                    flat = np.array([p[:2] for p in points], float)
                    return self._placed(wall, _aside(flat, self._offset(wall)))
        return None

    def _offset(self, wall: Entity) -> float:
        """Return how far left of its axis the middle of a wall's layers lies, in the model's unit.

        Source: ISO 16739-1, IfcMaterialLayerSetUsage: layers begin at the offset and go on by the direction's sense.
        """
        usage = elements.get_material(wall)
        if usage is None or not usage.is_a("IfcMaterialLayerSetUsage"):
            return 0.0
        thick = sum(float(layer.LayerThickness) for layer in usage.ForLayerSet.MaterialLayers)
        sense = -1.0 if usage.DirectionSense == "NEGATIVE" else 1.0
        return float(usage.OffsetFromReferenceLine) + sense * thick / 2

    def _placed(self, entity: Entity, points: Floats) -> Floats:
        matrix = self._matrix(entity)
        full = np.column_stack([points[:, :2], np.zeros(len(points)), np.ones(len(points))])
        flat = (full @ matrix.T)[:, :2] * self.scale
        return self._near(np.column_stack([flat[:, 0], -flat[:, 1]]))

    def _near(self, flat: Floats) -> Floats:
        """Return plan coordinates from a zero near the model, so that far-out models fit the sheet."""
        if self.zero is None:
            far = np.abs(flat).max() > limit("plan.far_m")
            self.zero = np.round(flat.mean(axis=0), -3) if far else np.zeros(2)
            if far:
                self.notes.append(
                    f"The model lies {np.hypot(*self.zero) / 1000:.0f} km from its own zero; "
                    "it was brought to the sheet's corner."
                )
        return flat - self.zero

    def _prism(self, entity: Entity) -> tuple[Floats, Polygon] | None:
        """Return the corners and footprint of an element that is one upright prism, else None.

        Most walls, openings and spaces are; the geometry kernel is for the rest.
        """
        shapes = entity.Representation.Representations if entity.Representation else ()
        items = [item for r in shapes if r.RepresentationIdentifier == "Body" for item in r.Items]
        if len(items) != 1 or not items[0].is_a("IfcExtrudedAreaSolid"):
            return None
        solid = items[0]
        ring = profile_corners(solid.SweptArea)
        way = np.array(solid.ExtrudedDirection.DirectionRatios, float)
        if len(ring) < 3 or abs(way[2]) < 0.999:
            return None
        own = placement.get_axis2placement(solid.Position) if solid.Position else np.eye(4)
        matrix = self._matrix(entity) @ own
        if abs(matrix[2, 2]) < 0.999:
            return None
        foot = np.column_stack([ring, np.zeros(len(ring)), np.ones(len(ring))])
        head = foot + np.array([0, 0, float(solid.Depth) * way[2], 0])
        corners = (np.concatenate([foot, head]) @ matrix.T)[:, :3] * self.scale
        corners[:, 1] *= -1
        corners[:, :2] = self._near(corners[:, :2])
        return corners, Polygon(corners[: len(ring), :2])

    def _matrix(self, entity: Entity) -> Floats:
        if entity.ObjectPlacement is None:
            return np.eye(4)
        return np.asarray(self._placement(entity.ObjectPlacement))

    def _placement(self, at: Entity) -> Floats:
        """Return a placement in the model's frame, kept: walls of a storey share theirs."""
        found = self.placements.get(at.id())
        if found is None:
            if at.is_a("IfcLocalPlacement"):
                above = self._placement(at.PlacementRelTo) if at.PlacementRelTo else np.eye(4)
                found = above @ placement.get_axis2placement(at.RelativePlacement)
            else:
                found = np.asarray(placement.get_local_placement(at))
            self.placements[at.id()] = found
        return found

    def _corners(self, entity: Entity) -> Floats | None:
        """Return an element's corners in metres, y down."""
        prism = self._prism(entity)
        if prism is not None:
            return prism[0]
        found = self._vertices(entity)
        return None if found is None else found[0]

    def _largest(self, entity: Entity) -> Polygon | None:
        """Return the largest piece an element that is no prism covers seen from above."""
        found = self._vertices(entity)
        if found is None:
            return None
        triangles = shapely.polygons(found[0][:, :2][found[1]])
        whole = shapely.union_all(triangles[shapely.area(triangles) > 1e-6]).buffer(0.005).buffer(-0.005)
        return max(shapely.get_parts(whole), key=lambda part: part.area, default=None)

    def _vertices(self, entity: Entity) -> tuple[Floats, NDArray[np.int64]] | None:
        """Return an element's corners in metres (y down) and its triangles, by the geometry kernel."""
        try:
            shape: Any = ifcopenshell.geom.create_shape(self.shapes, entity)
        except (RuntimeError, ValueError):
            return None
        matrix = np.array(shape.transformation.matrix, float).reshape(4, 4, order="F")
        own = np.array(shape.geometry.verts, float).reshape(-1, 3)
        world = own @ matrix[:3, :3].T + matrix[:3, 3]
        world[:, 1] *= -1
        world[:, :2] = self._near(world[:, :2])
        return world, np.array(shape.geometry.faces, np.int64).reshape(-1, 3)

    def _footprint(self, wall: Entity) -> tuple[Floats | None, float | None]:
        """Return the centre line and width of a wall's shape seen from above."""
        found = self._corners(wall)
        if found is None or len(found) < 3:
            return None, None
        box = MultiPoint(found[:, :2]).minimum_rotated_rectangle
        if not isinstance(box, Polygon):
            return None, None
        corners = np.array(box.exterior.coords)[:4]
        sides = np.hypot(*(np.roll(corners, -1, axis=0) - corners).T)
        first = int(np.argmin(sides))
        a = (corners[first] + corners[(first + 1) % 4]) / 2
        b = (corners[(first + 2) % 4] + corners[(first + 3) % 4]) / 2
        return np.array([a, b]), float(min(sides))

    def _opening(
        self, opening: Entity, corners: Floats, wall: ProposedWall, axis: Floats, level: _Level
    ) -> None:
        fillings = [r.RelatedBuildingElement for r in (opening.HasFillings or ())]
        filling = fillings[0] if fillings else None
        kind: OpeningKind = (
            "opening" if filling is None else "window" if filling.is_a("IfcWindow") else "door"
        )
        span = axis[1] - axis[0]
        length = float(np.hypot(*span))
        along = (corners[:, :2] - axis[0]) @ (span / length)
        start, stop = max(0.0, float(along.min())), min(length, float(along.max()))
        if stop - start < 0.1:
            self.skipped[opening.is_a(), "it does not lie on its wall"] += 1
            return
        sill = max(0.0, float(corners[:, 2].min()) - level.elevation_m)
        self._cut(level, wall, kind, start, stop, sill, float(np.ptp(corners[:, 2])))

    def _cut(
        self,
        level: _Level,
        wall: ProposedWall,
        kind: OpeningKind,
        start: float,
        stop: float,
        sill_m: float,
        height_m: float,
    ) -> None:
        body = {
            "id": self.new_id(),
            "wall_id": wall.id,
            "at_m": round(start, 3),
            "width_m": round(stop - start, 3),
            "sill_m": round(sill_m, 2) if kind == "window" else 0.0,
            "height_m": round(min(max(height_m, 0.2), 30), 2),
        }
        level.openings.append(ProposedOpening.model_validate(BODY[kind] | body))

    def _space(self, space: Entity) -> None:
        prism, level = self._prism(space), self._level(space)
        room = self._largest(space) if prism is None else prism[1]
        if prism is not None:
            level.heights_m.append(float(np.ptp(prism[0][:, 2])))
        if room is not None and not room.is_valid:
            room = mended(room)
            self.skipped[
                f"outline of {space.Name or 'a space'}", "it crosses itself: its largest part was kept"
            ] += 1
        if room is None or room.area < 0.2 or not isinstance(room, Polygon):
            self.skipped["IfcSpace", "it covers no area that can be read"] += 1
            return
        room = room.simplify(0.01)
        said = [getattr(space, "LongName", None) or "", space.Name or ""]
        number = said[1] if said[0] and said[1] not in said[0] and any(c.isdigit() for c in said[1]) else ""
        name = f"{number} {said[0] or said[1]}".strip()[:70] or "Space"
        level.spaces.append(ProposedSpace(id=self.new_id(), label=name, outline=outline(room)))

    def _slab(self, slab: Entity) -> None:
        layers = self._layers(slab)
        level = self._level(slab)
        names = " ".join(name.lower() for name, _ in layers)
        thickest = sum(mm for _, mm in layers)
        if "timber" in names or "wood" in names:
            level.slab = "timber-floor"
        elif layers:
            level.slab = "concrete-slab-250" if thickest >= 220 else "concrete-slab-150"
        elif (prism := self._prism(slab)) is not None and level.slab is None:
            thick = float(np.ptp(prism[0][:, 2]))
            level.slab = "concrete-slab-250" if thick >= 0.22 else "concrete-slab-150"

    def _proposal(self) -> Proposal:
        levels = self._each_level()
        shift = self._shift(levels)
        storeys = []
        for index, level in enumerate(levels):
            if not level.walls and not level.spaces:
                self.notes.append(f"Storey {level.label} holds no wall and no space; it was left out.")
                continue
            above = levels[index + 1].elevation_m if index + 1 < len(levels) else None
            height = above - level.elevation_m if above is not None else _USUAL_HEIGHT_M
            storeys.append(_shifted(level, height, shift))
            self.notes += sanity(storeys[-1])
        if not storeys:
            raise Unreadable(
                "the model holds no wall and no space that can be read",
                "Export it with walls, slabs and spaces",
            )
        skipped = tuple(Skipped(what=w, why=y, count=n) for (w, y), n in self.skipped.items())
        return Proposal(storeys=tuple(storeys), notes=tuple(self.notes), skipped=skipped)

    def _shift(self, levels: list[_Level]) -> tuple[float, float]:
        points = [p for level in levels for w in level.walls for p in (w.a, w.b)]
        points += [p for level in levels for s in level.spaces for p in s.outline]
        if not points:
            return 0.0, 0.0
        x, y = min(p.x_m for p in points), min(p.y_m for p in points)
        return float(np.floor(x * 100) / 100), float(np.floor(y * 100) / 100)


def _at(xy: Floats) -> Point:
    return Point(x_m=round(float(xy[0]), 3), y_m=round(float(xy[1]), 3))


def _shifted(level: _Level, height_m: float, by: tuple[float, float]) -> ProposedStorey:
    def moved(p: Point) -> Point:
        return Point(x_m=round(p.x_m - by[0], 3), y_m=round(p.y_m - by[1], 3))

    return ProposedStorey(
        label=level.label,
        elevation_m=round(level.elevation_m, 3),
        height_m=round(min(max(height_m, 1.8), 20), 2),
        walls=tuple(w.model_copy(update={"a": moved(w.a), "b": moved(w.b)}) for w in level.walls),
        openings=tuple(level.openings),
        spaces=tuple(s.model_copy(update={"outline": tuple(map(moved, s.outline))}) for s in level.spaces),
        slab_build_up=level.slab,
        ceiling_m=_ceiling(level.heights_m),
    )


def _ceiling(heights_m: Sequence[float]) -> float | None:
    """Return the ceiling most rooms of a level have, None where none says it."""
    usual = [h for h in heights_m if 1.8 <= h <= 20]
    return round(float(np.median(usual)), 2) if usual else None


def _aside(line: Floats, offset: float) -> Floats:
    """Return a line moved to its left by an offset, along the normals at its points."""
    if not offset:
        return line
    spans = np.diff(line, axis=0)
    normals = np.column_stack([-spans[:, 1], spans[:, 0]]) / np.hypot(*spans.T)[:, None]
    at = np.vstack([normals[:1], (normals[:-1] + normals[1:]) / 2, normals[-1:]])
    return np.asarray(line + offset * at / np.hypot(*at.T)[:, None])
