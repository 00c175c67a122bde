"""Rays that walls throw back as mirrors do, up to three times, on an access point's own storey and beside it.

A straight ray knows only what stands in its way. Much of what is received in a corridor, or through
an open door, came off a wall: at a shallow angle even a brick wall throws back most of what meets it.
Each wall that is met strongly enough gives an image of the access point; from an image the ray is
straight again. What is mirrored on from the last that is followed is left to the balance (`balance`).

References
----------
Method of images, as in ITU-R P.1411 annex and any text on ray tracing; Fresnel's shares of power, the
mean of both polarisations (ITU-R P.2040 section 2). Constants fitted on traced scenes: docs/accuracy.md.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from threading import Lock
from typing import Any

import numpy as np
import shapely
from cachetools import cached
from numpy.typing import NDArray

from heathrise.core.job import BANDS
from heathrise.core.library import limit
from heathrise.core.radio.echoing import levels_add
from heathrise.core.radio.imaging import ASIDE_M, PIECES, mirrored, ways
from heathrise.core.radio.keeping import room
from heathrise.core.radio.lighting import beams_of, lit_of, mirrored_gain
from heathrise.core.radio.reflecting import ON_WALL, places_along, reach_of
from heathrise.core.radio.scene import Grid, Losses, Scene, Transmitter, grid_losses, pattern_of

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# Rows of points in the order of the tiles they lie in, where each tile begins and ends, which are under a roof, and
# what share of mirrored rays counts at each.
Tiled = tuple[Ints, Ints, Bools, Floats]
_TILE_M = 3.0
# Which walls are met strongly is seen at 5 GHz.
_SEEN_AT = BANDS.index("5")


@dataclass(frozen=True)
class Images:
    """Images of one transmitter: the wall that mirrors each, what it is an image of, where it seems to be.

    `parent` is -1 for an image of the transmitter itself. `listed` are the walls in the way of rays,
    `way_m` their ends and how near each is to where the rays seem to come from; `offsets` cuts them into spans, for
    each image first the walls before each piece of its mirror (`imaging.PIECES`), then those beyond each. `lost_db`
    (images, PIECES) is the least its rays have lost in walls at each piece of its mirror, at 2.4 GHz, infinite where none leave.
    """

    mirror: Ints
    parent: Ints
    places_m: Floats
    offsets: Ints
    listed: Ints
    way_m: Floats
    lost_db: Floats

    @property
    def is_last(self) -> Bools:
        """Whether each image's rays are followed no further: no other image is made from it."""
        return ~np.isin(np.arange(len(self.mirror)), self.parent)


@dataclass(frozen=True)
class Mirrored:
    """Path gain by mirrors, as ratios of power (3, n) by band: all of it, and that of rays that are followed no further."""

    every: Float32s
    last: Float32s


class _Finder:
    """Collects images wall by wall, one generation of them after another."""

    def __init__(self, scene: Scene, transmitter: Transmitter, at_m: float):
        self.scene, self.transmitter = scene, transmitter
        self.low_m, self.high_m = min(at_m, transmitter.z_m), max(at_m, transmitter.z_m)
        self.source_m = np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m])
        self.mirror: list[int] = []
        self.parent: list[int] = []
        self.places: list[tuple[float, float]] = []
        self.images = _none()

    def add(self, meetings: list[tuple[int, int]]) -> int:
        """Add the next generation as (image, wall), image -1 for the transmitter; return how many were there before.

        With the walls in the way of the new ones and the pieces of each mirror that are lit.
        """
        before = len(self.mirror)
        for parent, wall in meetings:
            seen_from = (self.transmitter.x_m, self.transmitter.y_m) if parent < 0 else self.places[parent]
            self.mirror.append(wall)
            self.parent.append(parent)
            self.places.append(mirrored(self.scene.ends_m, wall, *seen_from))
        self.images = self._with(self.images)
        return before

    def _with(self, known: Images) -> Images:
        """Return the images known before and those added since."""
        scene, first = self.scene, len(known.mirror)
        mirror, parent = np.array(self.mirror, np.int64), np.array(self.parent, np.int64)
        places = np.array(self.places, float).reshape(-1, 2)
        ends, heights = scene.ends_m, scene.heights_m
        offsets, listed, way_m = ways(
            mirror, parent, places, self.source_m, ends, heights, self.low_m, self.high_m, first
        )
        offsets = np.concatenate([known.offsets, known.offsets[-1] + offsets[1:]])
        listed, way_m = np.concatenate([known.listed, listed]), np.concatenate([known.way_m, way_m])
        lost_db = lit_of(
            mirror,
            parent,
            places,
            offsets,
            walls_of(scene),
            scene.loss_db,
            listed,
            way_m,
            ends,
            heights,
            self.source_m,
            self.low_m,
            self.high_m,
            scene.one_metre_db,
            limit("air.mirror_floor_db"),
            known.lost_db,
        )
        return _of_lit_pieces(Images(mirror, parent, places, offsets, listed, way_m, lost_db))

    def first(self) -> list[tuple[int, int]]:
        """Return (-1, wall) of the walls the transmitter itself meets most strongly."""
        spans, places = self._places()
        # Just before each wall, so that it is not in its own way.
        places = places - ON_WALL * (places - self.source_m)
        gain = np.full(len(self.scene.ends_m), -300.0)
        walls = np.repeat(np.arange(len(gain)), np.diff(spans))
        np.maximum.at(gain, walls, -self.scene.walls_and_slabs_db(self.source_m, places)[_SEEN_AT])
        return [(-1, wall) for _, wall in _most(gain[None], int(limit("air.mirror_walls")))]

    def further(self, first: int, most: int) -> list[tuple[int, int]]:
        """Return (image, wall) of the strongest meetings of the rays of images from the first on.

        No meeting is stronger than the one before it on its ray: of a generation, strongest first, no more
        images are looked at than meetings are wanted.
        """
        scene, images = self.scene, self.images
        last = min(len(images.mirror), first + most)
        gain = reach_of(
            images.mirror,
            images.parent,
            images.places_m,
            images.offsets,
            walls_of(scene),
            scene.loss_db,
            images.listed,
            images.way_m,
            scene.ends_m,
            scene.heights_m,
            images.lost_db,
            *self._places(),
            self.source_m,
            scene.one_metre_db,
            scene.back,
            limit("air.mirror_floor_db"),
            first,
            last,
        )
        return [(first + row, wall) for row, wall in _most(gain, most)]

    def _places(self) -> tuple[Ints, Floats]:
        scene = self.scene
        back = scene.back[scene.wall_rows, -1, _SEEN_AT]
        return places_along(scene.ends_m, scene.heights_m, back, self.low_m, self.high_m)


def _most(gain_db: Floats, most: int) -> list[tuple[int, int]]:
    """Return (row, column) of the greatest gains over the floor, the greatest first, in a fixed order."""
    rows, walls = np.nonzero(gain_db > limit("air.mirror_floor_db"))
    order = np.lexsort((walls, rows, -gain_db[rows, walls]))[:most]
    return [(int(rows[n]), int(walls[n])) for n in order]


def _none() -> Images:
    none = np.empty(0, np.int64)
    return Images(
        none, none, np.empty((0, 2)), np.zeros(1, np.int64), none, np.empty((0, 5)), np.empty((0, PIECES))
    )


@lru_cache(maxsize=8)
def walls_of(scene: Scene) -> Floats:
    """Return the walls of a scene with the least each costs at 2.4 GHz at any angle, (walls, 10)."""
    return np.column_stack([scene.walls, scene.loss_db[:, :, 0].min(axis=1)[scene.wall_rows]])


def _of_lit_pieces(images: Images) -> Images:
    """Return images without the lists of pieces no ray leaves by: most of what they would hold."""
    counts = np.diff(images.offsets).reshape(-1, 2, PIECES)
    lit = np.broadcast_to(np.isfinite(images.lost_db)[:, None, :], counts.shape)
    kept = np.repeat(lit.ravel(), counts.ravel())
    offsets = np.concatenate([[0], np.cumsum((counts * lit).ravel())])
    return replace(images, offsets=offsets, listed=images.listed[kept], way_m=images.way_m[kept])


def images_of(
    scene: Scene, transmitter: Transmitter, at_m: float, most_pairs: int, most_threes: int
) -> Images:
    """Return the images of a transmitter whose rays matter from its own height to another. [m]"""
    finder = _Finder(scene, transmitter, at_m)
    first = finder.add(finder.first())
    first = finder.add(finder.further(first, most_pairs))
    finder.add(finder.further(first, most_threes))
    return finder.images


@cached(room(96), lock=Lock())
def kept_images(scene: Scene, transmitter: Transmitter, storey: int) -> Images:
    """Return the images of a transmitter for clients on a storey, kept."""
    floor_m = scene.building.storeys[storey].elevation_m
    where = "" if storey == own_storey(scene, transmitter) else "_through_floor"
    of = where if transmitter.floors else "_tried"
    pairs, threes = (int(limit(f"air.mirror_{many}{of}")) for many in ("pairs", "threes"))
    return images_of(scene, transmitter, floor_m + limit("air.client_height_m"), pairs, threes)


def followed(scene: Scene, transmitter: Transmitter) -> tuple[int, ...]:
    """Return the numbers of the storeys that a transmitter's mirrored rays are followed on.

    Its own, and those beside it behind a floor that lets something through.
    """
    storeys, own = scene.building.storeys, own_storey(scene, transmitter)
    if not storeys or transmitter.z_m >= scene.building.top_m(storeys[own]):
        return ()
    if not transmitter.floors:
        return (own,)
    below = (own - 1,) if own and scene.levels_db[own][0] < limit("air.mirror_floor_passed_db") else ()
    last = own + 1 == len(storeys)
    above = (own + 1,) if not last and scene.levels_db[own][1] < limit("air.mirror_floor_passed_db") else ()
    return (*below, own, *above)


def _by_places(scene: Scene, transmitter: Transmitter, points_m: Floats) -> tuple[Scene, Transmitter, bytes]:
    return scene, transmitter, points_m.tobytes()


@cached(room(32), key=_by_places, lock=Lock())
def mirrored_at(scene: Scene, transmitter: Transmitter, points_m: Floats) -> Mirrored:
    """Return what mirrors bring to points (n, 3) of the storeys that are followed; nothing elsewhere.

    Kept a while: one band after another asks for the same.
    """
    own, losses = own_storey(scene, transmitter), scene.losses(transmitter, points_m)
    found = [
        _mirrored(scene, transmitter, points_m, losses, storey, tiled)
        for storey in followed(scene, transmitter)
        if len((tiled := _tiled(scene, storey, points_m, storey == own))[0])
    ]
    return found[0] if len(found) == 1 else _sum(found, len(points_m))


def _sum(found: list[Mirrored], n: int) -> Mirrored:
    """Return what several storeys' rays bring together."""
    none = np.broadcast_to(np.float32(0), (3, n))
    return Mirrored(
        np.sum([one.every for one in found], axis=0) if found else none,
        np.sum([one.last for one in found], axis=0) if found else none,
    )


def _mirrored(
    scene: Scene, transmitter: Transmitter, points_m: Floats, losses: Losses, storey: int, tiled: Tiled
) -> Mirrored:
    """Return the same where the straight rays' losses are known, for the points of a storey that were tiled."""
    order, tiles, roofed, shares = tiled
    if not len(order):
        return _sum([], len(points_m))
    every, last = np.zeros((3, len(points_m))), np.zeros((3, len(points_m)))
    images = kept_images(scene, transmitter, storey)
    shape = pattern_of(scene, transmitter.pattern)
    points = np.ascontiguousarray(points_m[order]) + ASIDE_M
    source_m = np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m])
    level_m, level_rows = levels_m(scene, transmitter, storey)
    here = np.array([[transmitter.x_m, transmitter.y_m]])
    own = own_storey(scene, transmitter)
    roofed = roofed & bool(_roofed(scene, own, here)[0])
    shares = shares * float(_shares(scene, own, here)[0])
    every[:, order], last[:, order] = mirrored_gain(
        images.mirror,
        images.parent,
        images.places_m,
        images.offsets,
        walls_of(scene),
        scene.loss_db,
        images.listed,
        images.way_m,
        scene.ends_m,
        scene.heights_m,
        beams_of(images.mirror, scene.ends_m, images.lost_db),
        images.is_last,
        images.lost_db,
        scene.back,
        source_m,
        level_m,
        level_rows,
        storey != own,
        roofed,
        points,
        tiles,
        scene.one_metre_db - scene.offset_db,
        floors_db(losses, order, storey != own),
        np.asarray(transmitter.axis),
        np.asarray(transmitter.up),
        shape.by_cosine,
        shape.azimuth,
        shape.elevation,
        scene.area_edges_m,
        scene.area_offsets,
        scene.area_heights_m,
        scene.area_losses_db_m,
        scene.slab_z_m,
        scene.slab_rows,
        scene.slab_offsets,
        scene.slab_edges_m,
    )
    straight = 10.0 ** ((losses.relative_db[order] - losses.loss_db[:, order].astype(float)) / 10.0)
    every[:, order] *= shares
    echoes = levels_add(
        points,
        source_m,
        level_m,
        level_rows,
        storey != own,
        scene.back,
        scene.loss_db,
        scene.slab_z_m,
        scene.slab_rows,
        scene.slab_offsets,
        scene.slab_edges_m,
    )
    every[:, order] += roofed * straight * echoes
    return Mirrored(every.astype(np.float32), last.astype(np.float32))


def levels_m(scene: Scene, transmitter: Transmitter, storey: int) -> tuple[Floats, Ints]:
    """Return (heights, rows of the book), (2,) each, of the floor and the ceiling that echo between a
    transmitter and a storey: the lower one's floor, the upper one's ceiling.

    A suspended ceiling lets nearly all through: what is over its void throws back.
    """
    own = own_storey(scene, transmitter)
    low, high = min(own, storey), max(own, storey)
    storeys = scene.building.storeys
    ceiling_m = max(transmitter.z_m, scene.building.top_m(storeys[high]))
    rows = scene.levels[low][0], scene.levels[high][1]
    return np.array([storeys[low].elevation_m, ceiling_m]), np.array(rows, np.int64)


def _by_tile(points_m: Floats, rows: Ints, *of_rows: Any) -> tuple[Any, ...]:
    """Return rows by the tiles their points lie in, where the tiles begin and end, and what goes with the rows."""
    tiles = np.floor(points_m[rows, :2] / _TILE_M).astype(np.int64)
    # Each thread takes a run of tiles: mixed, so that none gets all the busy ones near the transmitter.
    mixed = (tiles @ np.array([73, 151])) % 97
    order = np.lexsort((tiles[:, 0], tiles[:, 1], mixed))
    changes = np.flatnonzero(np.diff(tiles[order], axis=0).any(axis=1)) + 1
    ends = np.concatenate([[0], changes, [len(rows)]])
    return rows[order], ends, *(values[order] for values in of_rows)


def own_storey(scene: Scene, transmitter: Transmitter) -> int:
    """Return the number of the storey a transmitter is on."""
    return storey_of(scene, transmitter.z_m)


def floors_db(losses: Losses, rows: Ints, through: bool) -> Floats:
    """Return under which path gain at 2.4 GHz a ray adds nothing at each place: it is not heard, or the
    straight ray is so much stronger, at 5 GHz too. `through` says that a floor lies between, whose loss is not yet off.
    """
    heard = "air.mirror_heard_through_db" if through else "air.mirror_heard_db"
    direct = losses.relative_db[rows] - losses.loss_db[BANDS.index("5"), rows]
    floors: Floats = np.maximum(limit(heard), direct.astype(float) - limit("air.mirror_under_db"))
    return floors


def is_roofed(scene: Scene, storey: int, x_m: float, y_m: float) -> bool:
    """Say whether a place of a storey is indoors."""
    return bool(_roofed(scene, storey, np.array([[x_m, y_m]]))[0])


def followed_share(scene: Scene, storey: int, x_m: float, y_m: float) -> float:
    """Return what share of mirrored rays counts at a place of a storey."""
    return float(_shares(scene, storey, np.array([[x_m, y_m]]))[0])


def _roofed(scene: Scene, storey: int, points_m: Floats) -> Bools:
    inside = scene.building.inside[scene.building.storeys[storey].id]
    shapely.prepare(inside)
    found: Bools = shapely.contains_xy(inside, points_m[:, 0], points_m[:, 1])
    return found


def _shares(scene: Scene, storey: int, points_m: Floats) -> Floats:
    """Return what share of mirrored rays counts at points (n, 2 or more): all of it indoors, near a building and
    in a space outdoors; beyond, where nobody asks, less and less, and then none.
    """
    near = scene.building.cared_for[scene.building.storeys[storey].id]
    shapely.prepare(near)
    off_m = shapely.distance(near, shapely.points(points_m[:, :2])) if not near.is_empty else np.inf
    full_m, last_m = limit("air.mirror_outdoors_m"), limit("air.mirror_outdoors_end_m")
    found: Floats = np.clip((last_m - off_m) / (last_m - full_m), 0.0, 1.0) * np.ones(len(points_m))
    return found


def storey_of(scene: Scene, z_m: float) -> int:
    """Return the number of the storey a height is on."""
    storeys = scene.building.storeys
    return max((i for i, s in enumerate(storeys) if s.elevation_m <= z_m + 1e-6), default=0)


def _tiled(scene: Scene, storey: int, points_m: Floats, is_own: bool) -> Tiled:
    """Return the points between the floor and the top of a storey by tile; those outdoors only for a
    transmitter of the same storey: over and under it nobody stands there.
    """
    level = scene.building.storeys[storey]
    within = (points_m[:, 2] >= level.elevation_m - 1e-6) & (points_m[:, 2] < scene.building.top_m(level))
    rows = np.flatnonzero(within)
    roofed = _roofed(scene, storey, points_m[rows])
    if not is_own:
        rows, roofed = rows[roofed], roofed[roofed]
    shares = _shares(scene, storey, points_m[rows])
    kept = shares > 0
    order, ends, roofed, shares = _by_tile(points_m, rows[kept], roofed[kept], shares[kept])
    return order, ends, roofed, shares


@lru_cache(maxsize=64)
def _tiled_grid(scene: Scene, grid: Grid, is_own: bool) -> Tiled:
    return _tiled(scene, storey_of(scene, grid.z_m), grid.points_m(), is_own)


@cached(room(128), lock=Lock())
def grid_mirrored(scene: Scene, transmitter: Transmitter, grid: Grid) -> Mirrored:
    """Return what mirrors bring over a grid, kept."""
    storey = storey_of(scene, grid.z_m)
    if storey not in followed(scene, transmitter):
        return _sum([], grid.rows * grid.columns)
    tiled = _tiled_grid(scene, grid, storey == own_storey(scene, transmitter))
    losses = grid_losses(scene, transmitter, grid)
    return _mirrored(scene, transmitter, grid.points_m(), losses, storey, tiled)
