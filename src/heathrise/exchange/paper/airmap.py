"""A layer of the air on paper: tinted bands, contours with their figures, the plan in ink, points with their channels."""

from collections.abc import Mapping

from heathrise.core.job import AccessPoint, Job
from heathrise.exchange.paper.drawn import (
    XY,
    Drawn,
    Fill,
    Legend,
    Sign,
    Stroke,
    Words,
    names_of,
    plan_strokes,
)
from heathrise.exchange.terrain import Floats, Terrain, figure


def air_drawn(job: Job, storey_id: str, terrain: Terrain, words: str, channels: Mapping[str, str]) -> Drawn:
    """Return a layer over a storey. `words` say what the tints are; `channels` what each point is on, by its id."""
    points = [point for point in job.of(AccessPoint) if point.storey_id == storey_id]
    signs = [Sign("HR-POINT", (point.at.x_m, point.at.y_m), "point") for point in points]
    named = [
        Words("HR-POINT", (p.at.x_m, p.at.y_m), f"{p.label} {channels.get(p.id, '')}".strip()) for p in points
    ]
    lines = [(level, line) for level in terrain.levels for line in terrain.contours(level)]
    contours = [Stroke("HR-CONTOUR", _places(line)) for _, line in lines]
    figures = [
        Words("HR-CONTOUR", at, figure(level), small=True)
        for level, line in lines
        if (at := terrain.labelled(line)) is not None
    ]
    inks = tuple(terrain.tint(number) for number in range(len(terrain.levels) + 1))
    return Drawn(
        strokes=(*contours, *plan_strokes(job, storey_id)),
        signs=tuple(signs),
        words=(*named, *names_of(job, storey_id), *figures),
        fills=(_ground(terrain), *_bands(terrain)),
        legend=Legend(words, inks, tuple(figure(level) for level in terrain.levels)),
    )


def _ground(terrain: Terrain) -> Fill:
    """Return all that was looked at, in the tint under the least level."""
    g = terrain.grid
    x0, y0, x1, y1 = g.x0_m, g.y0_m, g.x0_m + g.columns * g.cell_m, g.y0_m + g.rows * g.cell_m
    return Fill((((x0, y0), (x1, y0), (x1, y1), (x0, y1)),), terrain.tint(0))


def _bands(terrain: Terrain) -> list[Fill]:
    bands = []
    for number, level in enumerate(terrain.levels, start=1):
        rings = tuple(_places(ring) for ring in terrain.rings(level))
        if rings:
            bands.append(Fill(rings, terrain.tint(number)))
    return bands


def _places(line: Floats) -> tuple[XY, ...]:
    return tuple((float(x), float(y)) for x, y in line)
