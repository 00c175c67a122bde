"""A point inside a wall is found by an index as it is by trying every wall."""

import math

from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.job import AccessPoint, Job, Point, Storey, Wall
from heathrise.core.radio.rules import in_wall

ON = "00000000-0000-7000-8000-000000000001"
OTHER = "00000000-0000-7000-8000-000000000002"
PLACES = st.builds(
    Point, x_m=st.integers(0, 40).map(lambda n: n / 4), y_m=st.integers(0, 40).map(lambda n: n / 4)
)


def wall_of(number, a, b, storey, thickness_m):
    return Wall(
        id=f"00000000-0000-7000-8000-0000000001{number:02d}",
        label=f"W{number}",
        storey_id=storey,
        a=a,
        b=b,
        thickness_m=thickness_m,
    )


def point_of(number, at, mount):
    return AccessPoint(
        id=f"00000000-0000-7000-8000-0000000002{number:02d}",
        label=f"P{number}",
        storey_id=ON,
        at=at,
        height_m=2.5,
        mount=mount,
        model="ap-ceiling-wifi6-2x2",
    )


WALLS = st.lists(
    st.tuples(PLACES, PLACES, st.sampled_from((ON, OTHER)), st.sampled_from((0.1, 0.3, 0.5))).filter(
        lambda row: row[0] != row[1]
    ),
    max_size=8,
)
POINTS = st.lists(st.tuples(PLACES, st.sampled_from(("ceiling", "desk", "wall"))), max_size=6)


def apart_m(wall, at):
    dx, dy = wall.b.x_m - wall.a.x_m, wall.b.y_m - wall.a.y_m
    t = ((at.x_m - wall.a.x_m) * dx + (at.y_m - wall.a.y_m) * dy) / (dx * dx + dy * dy)
    t = min(1.0, max(0.0, t))
    return math.hypot(at.x_m - wall.a.x_m - t * dx, at.y_m - wall.a.y_m - t * dy)


@given(WALLS, POINTS)
def test_an_index_finds_what_trying_every_wall_finds(walls, points):
    made = [wall_of(n, *row) for n, row in enumerate(walls)]
    stood = [point_of(n, *row) for n, row in enumerate(points)]
    storeys = [Storey(id=ON, label="Ground", elevation_m=0), Storey(id=OTHER, label="First", elevation_m=3)]
    job = Job.model_construct(name="walls", elements=(*storeys, *made, *stood))
    found = {one.subject_ids for one in in_wall(job)}
    wanted = {
        (point.id, wall.id)
        for point in stood
        for wall in made
        if point.mount != "wall"
        and wall.storey_id == point.storey_id
        and apart_m(wall, point.at) < wall.thickness_m / 2 - 0.01
    }
    assert found == wanted
