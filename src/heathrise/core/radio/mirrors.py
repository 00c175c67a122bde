"""Rays that walls throw back as mirrors do, once and twice, on an access point's own storey.

A straight ray knows only what stands in its way. Much of what is received in a corridor, or through
an open door, came off a wall: at a shallow angle even a brick wall throws back most of what meets it.
Each wall that is met strongly enough gives an image of the access point; from an image the ray is
straight again. What is mirrored a third time and more is left to the balance (`balance`).

References
----------
Method of images, as in ITU-R P.1411 annex and any text on ray tracing; Fresnel's shares of power, the
mean of both polarisations (ITU-R P.2040 section 2). Constants fitted on traced scenes: docs/accuracy.md.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from threading import Lock

import numpy as np
import shapely
from cachetools import cached
from numpy.typing import NDArray

from heathrise.core.job import BANDS
from heathrise.core.library import limit
from heathrise.core.radio.imaging import PIECES, mirrored, ways
from heathrise.core.radio.keeping import room
from heathrise.core.radio.lighting import beams_of, lit_of, mirrored_gain
from heathrise.core.radio.reflecting import levels_add, places_along, reach_of
from heathrise.core.radio.scene import Grid, Losses, Scene, Transmitter, grid_losses, pattern_of

Floats = NDArray[np.float64]
Float32s = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
# Rows of points in the order of the tiles they lie in, and where each tile begins and ends.
Tiled = tuple[Ints, Ints]
_TILE_M = 3.0
# A place on a wall is looked at so much of the way before it.
_BEFORE = 1e-6
# Which walls are met strongly is seen at 5 GHz.
_SEEN_AT = BANDS.index("5")


@dataclass(frozen=True)
class Images:
    """Images of one transmitter: the wall that mirrors each, what it is an image of, where it seems to be.

    `parent` is -1 for an image of the transmitter itself. `listed` are the walls in the way of rays,
    `way_m` their ends and how near each is to where the rays seem to come from; `offsets` cuts them into spans, for
    each image first the walls before each piece of its mirror (`imaging.PIECES`), then those beyond each.
    """

    mirror: Ints
    parent: Ints
    places_m: Floats
    offsets: Ints
    listed: Ints
    way_m: Floats
    lit: Bools


@dataclass(frozen=True)
class Mirrored:
    """Path gain by mirrors, as ratios of power (3, n) by band: all of it, and what was mirrored twice."""

    every: Float32s
    twice: Float32s


class _Finder:
    """Collects images wall by wall."""

    def __init__(self, scene: Scene, transmitter: Transmitter, low_m: float):
        self.scene, self.transmitter = scene, transmitter
        self.low_m, self.high_m = min(low_m, transmitter.z_m), max(low_m, transmitter.z_m)
        self.source_m = np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m])
        self.mirror: list[int] = []
        self.parent: list[int] = []
        self.places: list[tuple[float, float]] = []

    def add(self, wall: int, parent: int) -> None:
        """Add the image of the transmitter (parent -1) or of an image in a wall."""
        seen_from = (self.transmitter.x_m, self.transmitter.y_m) if parent < 0 else self.places[parent]
        self.mirror.append(wall)
        self.parent.append(parent)
        self.places.append(mirrored(self.scene.ends_m, wall, *seen_from))

    def images(self) -> Images:
        """Return what was collected, with the walls in the way and the pieces of each mirror that are lit."""
        scene = self.scene
        mirror, parent = np.array(self.mirror, np.int64), np.array(self.parent, np.int64)
        places = np.array(self.places, float).reshape(-1, 2)
        ends, heights = scene.ends_m, scene.heights_m
        in_way = ways(mirror, parent, places, self.source_m, ends, heights, self.low_m, self.high_m)
        lit = lit_of(
            mirror,
            parent,
            places,
            in_way[0],
            walls_of(scene),
            *in_way[1:],
            ends,
            heights,
            self.source_m,
            self.low_m,
            scene.one_metre_db,
            limit("air.mirror_floor_db"),
        )
        return _of_lit_pieces(Images(mirror, parent, places, *in_way, lit))

    def first(self) -> list[tuple[int, int]]:
        """Return (-1, wall) of the walls the transmitter itself meets most strongly."""
        spans, places = self._places()
        # Just before each wall, so that it is not in its own way.
        places = places - _BEFORE * (places - self.source_m)
        gain = np.full(len(self.scene.ends_m), -300.0)
        walls = np.repeat(np.arange(len(gain)), np.diff(spans))
        np.maximum.at(gain, walls, -self.scene.walls_only_db(self.source_m, places)[_SEEN_AT])
        return _most(gain[None], int(limit("air.mirror_walls")), -1)

    def second(self, images: Images) -> list[tuple[int, int]]:
        """Return (image, wall) of the strongest meetings of the images' rays."""
        scene = self.scene
        gain = reach_of(
            images.mirror,
            images.parent,
            images.places_m,
            images.offsets,
            walls_of(scene),
            images.listed,
            images.way_m,
            scene.ends_m,
            scene.heights_m,
            images.lit,
            *self._places(),
            self.source_m,
            scene.one_metre_db,
            limit("air.mirror_permittivity"),
            limit("air.mirror_floor_db"),
        )
        return _most(gain, int(limit("air.mirror_pairs")))

    def _places(self) -> tuple[Ints, Floats]:
        scene = self.scene
        return places_along(scene.ends_m, scene.heights_m, scene.losses_db, self.transmitter.z_m, self.low_m)


def _most(gain_db: Floats, most: int, row: int = 0) -> list[tuple[int, int]]:
    """Return (row, column) of the greatest gains over the floor, in a fixed order; rows count from `row`."""
    rows, walls = np.nonzero(gain_db > limit("air.mirror_floor_db"))
    order = np.lexsort((walls, rows, -gain_db[rows, walls]))[:most]
    return [(int(rows[n]) + row, int(walls[n])) for n in sorted(order)]


@lru_cache(maxsize=8)
def walls_of(scene: Scene) -> Floats:
    """Return the walls of a scene as the kernel reads them: ends, heights, losses, (walls, 9)."""
    return np.column_stack([scene.ends_m, scene.heights_m, scene.losses_db])


def _of_lit_pieces(images: Images) -> Images:
    """Return images without the lists of pieces no ray leaves by: most of what they would hold."""
    counts = np.diff(images.offsets).reshape(-1, 2, PIECES)
    lit = np.broadcast_to(images.lit[:, None, :], counts.shape)
    kept = np.repeat(lit.ravel(), counts.ravel())
    offsets = np.concatenate([[0], np.cumsum((counts * lit).ravel())])
    return replace(images, offsets=offsets, listed=images.listed[kept], way_m=images.way_m[kept])


def images_of(scene: Scene, transmitter: Transmitter, low_m: float) -> Images:
    """Return the images of a transmitter whose rays matter at a height or above it. [m]"""
    finder = _Finder(scene, transmitter, low_m)
    for image, wall in finder.first():
        finder.add(wall, image)
    for image, wall in finder.second(finder.images()):
        finder.add(wall, image)
    return finder.images()


@cached(room(96), lock=Lock())
def kept_images(scene: Scene, transmitter: Transmitter) -> Images:
    """Return the images of a transmitter for clients on its own storey, kept."""
    floor_m = scene.building.storeys[own_storey(scene, transmitter)].elevation_m
    return images_of(scene, transmitter, floor_m + limit("air.client_height_m"))


def mirrored_at(scene: Scene, transmitter: Transmitter, points_m: Floats) -> Mirrored:
    """Return what mirrors bring to points (n, 3) indoors on the transmitter's own storey; nothing elsewhere."""
    tiled = _by_tile(points_m, _indoors(scene, own_storey(scene, transmitter), points_m))
    return _mirrored(scene, transmitter, points_m, scene.losses(transmitter, points_m), tiled)


def _mirrored(
    scene: Scene, transmitter: Transmitter, points_m: Floats, losses: Losses, tiled: Tiled
) -> Mirrored:
    """Return the same where the straight rays' losses are known, for the points that were tiled."""
    order, tiles = tiled
    if not len(order) or not len(scene.ends_m) or not _is_under_roof(scene, transmitter):
        none = np.broadcast_to(np.float32(0), (3, len(points_m)))
        return Mirrored(none, none)
    every, twice = np.zeros((3, len(points_m))), np.zeros((3, len(points_m)))
    images = kept_images(scene, transmitter)
    shape = pattern_of(scene, transmitter.pattern)
    points = np.ascontiguousarray(points_m[order])
    source_m, level_m = (
        np.array([transmitter.x_m, transmitter.y_m, transmitter.z_m]),
        levels_m(scene, transmitter),
    )
    every[:, order], twice[:, order] = mirrored_gain(
        images.mirror,
        images.parent,
        images.places_m,
        images.offsets,
        walls_of(scene),
        images.listed,
        images.way_m,
        scene.ends_m,
        scene.heights_m,
        images.lit,
        beams_of(images.mirror, scene.ends_m, images.lit),
        1.0 - 10.0 ** (-scene.losses_db / 10.0),
        source_m,
        level_m,
        points,
        tiles,
        scene.one_metre_db - scene.offset_db,
        limit("air.mirror_permittivity"),
        floors_db(losses, order),
        np.asarray(transmitter.axis),
        np.asarray(transmitter.up),
        shape.by_cosine,
        shape.azimuth,
        shape.elevation,
        scene.area_edges_m,
        scene.area_offsets,
        scene.area_heights_m,
        scene.area_losses_db_m,
    )
    straight = 10.0 ** ((losses.relative_db[order] - losses.loss_db[:, order].astype(float)) / 10.0)
    every[:, order] += straight * levels_add(points, source_m, level_m, limit("air.mirror_permittivity"))
    return Mirrored(every.astype(np.float32), twice.astype(np.float32))


def levels_m(scene: Scene, transmitter: Transmitter) -> Floats:
    """Return the heights of floor and ceiling of a transmitter's storey, (2,). [m]"""
    storey = scene.building.storeys[own_storey(scene, transmitter)]
    return np.array([storey.elevation_m, max(transmitter.z_m, storey.elevation_m + storey.ceiling_m)])


def _by_tile(points_m: Floats, rows: Ints) -> Tiled:
    """Return rows by the tiles their points lie in."""
    tiles = np.floor(points_m[rows, :2] / _TILE_M).astype(np.int64)
    # Each thread takes a run of tiles: mixed, so that none gets all the busy ones near the transmitter.
    mixed = (tiles @ np.array([73, 151])) % 97
    order = np.lexsort((tiles[:, 0], tiles[:, 1], mixed))
    changes = np.flatnonzero(np.diff(tiles[order], axis=0).any(axis=1)) + 1
    return rows[order], np.concatenate([[0], changes, [len(rows)]])


def own_storey(scene: Scene, transmitter: Transmitter) -> int:
    """Return the number of the storey a transmitter is on."""
    storeys = scene.building.storeys
    return max((i for i, s in enumerate(storeys) if s.elevation_m <= transmitter.z_m + 1e-6), default=0)


def floors_db(losses: Losses, rows: Ints) -> Floats:
    """Return under which path gain at 2.4 GHz a ray adds nothing at each place: it is not heard, or the
    straight ray is so much stronger, at 5 GHz too.
    """
    direct = losses.relative_db[rows] - losses.loss_db[BANDS.index("5"), rows]
    floors: Floats = np.maximum(
        limit("air.mirror_heard_db"), direct.astype(float) - limit("air.mirror_under_db")
    )
    return floors


def _is_under_roof(scene: Scene, transmitter: Transmitter) -> bool:
    """Say whether a transmitter hangs below the top of its storey."""
    return transmitter.z_m < scene.building.top_m(scene.building.storeys[own_storey(scene, transmitter)])


def _indoors(scene: Scene, own: int, points_m: Floats) -> Ints:
    """Return the rows of the points that lie under a roof between the floor and the top of a storey."""
    if own >= len(scene.building.storeys):
        return np.empty(0, np.int64)
    storey = scene.building.storeys[own]
    found = (points_m[:, 2] >= storey.elevation_m - 1e-6) & (points_m[:, 2] < scene.building.top_m(storey))
    inside = scene.building.inside[storey.id]
    shapely.prepare(inside)
    rows = np.flatnonzero(found)
    here: Ints = rows[shapely.contains_xy(inside, points_m[rows, 0], points_m[rows, 1])]
    return here


@lru_cache(maxsize=32)
def _tiled_grid(scene: Scene, own: int, grid: Grid) -> Tiled:
    points_m = grid.points_m()
    return _by_tile(points_m, _indoors(scene, own, points_m))


@cached(room(128), lock=Lock())
def grid_mirrored(scene: Scene, transmitter: Transmitter, grid: Grid) -> Mirrored:
    """Return what mirrors bring over a grid, kept."""
    tiled = _tiled_grid(scene, own_storey(scene, transmitter), grid)
    return _mirrored(scene, transmitter, grid.points_m(), grid_losses(scene, transmitter, grid), tiled)
