"""The reference school, built from a seed: 4 storeys of 60 x 40 m, 1,200 walls, 60 access points."""

import random

from demo.drawing import Drawing, at

from heathrise.core.job import Job

WIDTH_M, DEPTH_M = 60.0, 40.0
STOREYS, WALLS, POINTS, SWITCHES = 4, 1200, 60, 4
BUILD_UPS = ("block-dense-100", "stud-plasterboard", "brick-102", "acoustic-double", "concrete-150")


def reference_school(seed: int = 7, wider: int = 1) -> Job:
    """Return the school. Walls are 1.5 to 8 m long, along the grain of the building. `wider` as long and as deep,
    with as many walls to the square metre.
    """
    wide_m, deep_m = WIDTH_M * wider, DEPTH_M * wider
    rng = random.Random(seed)
    d = Drawing(f"Reference school {seed}")
    d.add("site", "Site", site_kind="school")
    d.add("brief", "Brief")
    d.add("practice", "House practice")
    for number in range(STOREYS):
        storey = d.add("storey", f"Level {number}", elevation_m=3.6 * number, ceiling_m=3.0, void_m=0.4)
        d.space(storey, f"All of level {number}", (0, 0, wide_m, deep_m), need="lessons")
        corners = ((0, 0), (wide_m, 0), (wide_m, deep_m), (0, deep_m), (0, 0))
        d.wall(storey, "cavity", *corners, label=f"Outer {number}")
        for n in range(wider * wider * WALLS // STOREYS - 4):
            _wall(d, storey, f"Wall {number}-{n}", rng, (wide_m, deep_m))
        for n in range(POINTS // STOREYS):
            _point(d, storey, f"AP {number}-{n}", rng)
    return Job(name="Reference school", elements=tuple(d.elements))


def wired_school(seed: int = 7, runs: int = 300, wider: int = 1) -> Job:
    """Return the school with a riser, a rack on every storey and so many runs: between racks, to its access
    points, to outlets.
    """
    job = reference_school(seed, wider)
    rng = random.Random(seed + 1)
    d = Drawing(job.name)
    d.elements = list(job.elements)
    storeys = [storey.id for storey in job.storeys]
    d.add("riser", "Riser", at=at(30, 20), from_storey_id=storeys[0], to_storey_id=storeys[-1])
    racks = [d.add("rack", f"TR{n}", storey_id=storey, at=at(31, 21)) for n, storey in enumerate(storeys)]
    for n, rack in enumerate(racks):
        for k in range(SWITCHES * wider * wider):
            d.in_rack(f"SW{n}-{k}", "switch-24-poe", rack)
        if n:
            d.run(f"B-{n}", racks[0], rack, "cat6a-indoor", None)
    for point in [e for e in d.elements if e.kind == "access-point"]:
        home = storeys.index(point.storey_id)
        d.run(f"P-{point.label}", racks[home], point.id, "cat6a-indoor", None)
    for n in range(runs - POINTS - STOREYS + 1):
        storey = n % STOREYS
        place = at(rng.uniform(1, WIDTH_M * wider - 1), rng.uniform(1, DEPTH_M * wider - 1))
        outlet = d.thing(f"Outlet {n}", "outlet-data", storeys[storey], place)
        # Every tenth goes to the rack below everything.
        d.run(f"R-{n:03d}", racks[0 if n % 10 == 0 else storey], outlet, "cat6a-indoor", None)
    return Job(name=job.name, elements=tuple(d.elements))


def _wall(d: Drawing, storey: str, label: str, rng: random.Random, size_m: tuple[float, float]) -> None:
    length = rng.uniform(1.5, 8)
    level = rng.random() < 0.5
    x = rng.uniform(0, size_m[0] - (length if level else 0))
    y = rng.uniform(0, size_m[1] - (0 if level else length))
    end = (x + length, y) if level else (x, y + length)
    d.wall(storey, rng.choice(BUILD_UPS), (x, y), end, label=label)


def _point(d: Drawing, storey: str, label: str, rng: random.Random) -> None:
    d.add(
        "access-point",
        label,
        storey_id=storey,
        at=at(rng.uniform(2, WIDTH_M - 2), rng.uniform(2, DEPTH_M - 2)),
        height_m=3.0,
        model="ap-ceiling-wifi6-2x2",
    )
