"""The reference scenes as jobs of the application, and their faces for a ray tracer.

Every wall is one plain layer of a material of ITU-R P.2040, so that the tracer and the application
know the same building. Lengths in metres, y down the sheet, heights above the ground.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from typing import Any

import shapely
from demo.drawing import Drawing, at

from heathrise.core.job import Job
from heathrise.core.library.slab import permittivity
from heathrise.core.site.building import building_of

# code: (material of P.2040, thickness in mm, what it closes)
LAYERS = {
    "ref-block": ("concrete", 100, "wall"),
    "ref-block-150": ("concrete", 150, "wall"),
    "ref-concrete-200": ("concrete", 200, "wall"),
    "ref-brick": ("brick", 102, "wall"),
    "ref-brick-215": ("brick", 215, "wall"),
    "ref-stud": ("plasterboard", 25, "wall"),
    "ref-door": ("wood", 40, "door"),
    "ref-glass": ("glass", 6, "window"),
    "ref-slab": ("concrete", 200, "slab"),
    "ref-boards": ("chipboard", 22, "slab"),
    "ref-roof": ("wood", 20, "roof"),
    "ref-metal": ("metal", 1, "wall"),
}
HEIGHT_M = 3.0
SENDER_M = 2.6
Place = tuple[float, float]


@dataclass(frozen=True)
class Reference:
    """A scene: who builds it, where senders stand (storey number, x, y), and what it is for."""

    name: str
    about: str
    build: Callable[["Plan"], None]
    senders: tuple[tuple[int, float, float], ...]
    fitted: bool
    heavy: bool
    storeys: int = 1

    def job(self) -> Job:
        """Return the scene as a job."""
        plan = Plan(self.name, self.storeys)
        self.build(plan)
        for number, (storey, x, y) in enumerate(self.senders):
            plan.sender(storey, x, y, f"T{number}")
        return Job(name=self.name, elements=tuple(plan.drawing.elements))


class Plan:
    """Writes a scene down shortly."""

    def __init__(self, name: str, storeys: int = 1):
        self.drawing = Drawing(f"Reference {name}")
        self.drawing.add("site", "Site", roof_build_up="ref-roof")
        self.drawing.add("brief", "Brief")
        self.drawing.add("practice", "House practice")
        for code, (material, thickness_mm, kind) in LAYERS.items():
            layer = {"material": material, "thickness_mm": thickness_mm}
            self.drawing.add("build-up", code, code=code, build_kind=kind, layers=[layer])
        self.count = 0
        self.slab = "ref-slab"
        self.ids = [self._storey(n) for n in range(storeys)]

    def _storey(self, number: int) -> str:
        return self.drawing.add(
            "storey",
            f"S{number}",
            elevation_m=HEIGHT_M * number,
            ceiling_m=HEIGHT_M,
            void_m=0,
            slab_build_up="ref-slab",
        )

    def wall(
        self, build_up: str, a: Place, b: Place, *doors: tuple[float, float, str], storey: int = 0
    ) -> None:
        """Add a wall; `doors` are (along, width, build-up or "open")."""
        self.count += 1
        (wall_id,) = self.drawing.wall(self.ids[storey], build_up, a, b, label=f"W{self.count}")
        for along, width, what in doors:
            self.count += 1
            glass = what == "ref-glass"
            self.drawing.add(
                "opening",
                f"O{self.count}",
                wall_id=wall_id,
                at_m=along,
                width_m=width,
                sill_m=0.9 if glass else 0.0,
                height_m=1.2 if glass else 2.1,
                opening_kind="opening" if what == "open" else ("window" if glass else "door"),
                build_up="ref-door" if what == "open" else what,
            )

    def box(self, build_up: str, x0: float, y0: float, x1: float, y1: float, storey: int = 0) -> None:
        """Add four walls, with a window in the middle of each side longer than 5 m."""
        corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0))
        for a, b in pairwise(corners):
            long = abs(b[0] - a[0]) + abs(b[1] - a[1])
            windows = [(n + 1.0, 1.5, "ref-glass") for n in range(1, int(long) - 2, 4)] if long > 5 else []
            self.wall(build_up, a, b, *windows, storey=storey)

    def room(self, x0: float, y0: float, x1: float, y1: float, kind: str = "room", storey: int = 0) -> None:
        """Add a space."""
        self.count += 1
        box = (x0, y0, x1, y1)
        self.drawing.space(self.ids[storey], f"R{self.count}", box, space_kind=kind, need="browsing")

    def sender(self, storey: int, x: float, y: float, label: str) -> None:
        """Add an access point whose place is what counts."""
        self.drawing.add(
            "access-point",
            label,
            storey_id=self.ids[storey],
            at=at(x, y),
            height_m=SENDER_M,
            model="ap-ceiling-wifi6-2x2",
        )


def school(p: Plan, block: str = "ref-block-150", door: str = "open") -> None:
    """A corridor 30 m long, five rooms on either side."""
    p.box("ref-brick-215", 0, 0, 30, 16.4)
    for y, side in ((7, 0), (9.4, 1)):
        doors = [(6 * n + (0.6 if n % 2 else 4.5), 0.9, door if n != 2 else "ref-door") for n in range(5)]
        p.wall(block, (0, y), (30, y), *doors)
        for n in range(1, 5):
            p.wall(block, (6 * n, 0 if side == 0 else y), (6 * n, y if side == 0 else 16.4))
        for n in range(5):
            p.room(6 * n, 0 if side == 0 else y, 6 * n + 6, y if side == 0 else 16.4)
    p.room(0, 7, 30, 9.4, "corridor")


def house(p: Plan) -> None:
    """A brick house with stud partitions."""
    p.box("ref-brick-215", 0, 0, 11, 8.5)
    p.wall("ref-stud", (0, 4.5), (6.5, 4.5), (1.0, 0.8, "open"), (5.2, 0.8, "ref-door"))
    p.wall("ref-stud", (4.2, 0), (4.2, 4.5), (3.2, 0.8, "ref-door"))
    p.wall("ref-brick", (6.5, 0), (6.5, 8.5), (3.0, 0.8, "open"), (6.8, 0.8, "open"))
    p.wall("ref-stud", (6.5, 5.5), (11, 5.5), (1.0, 0.8, "ref-door"))
    p.wall("ref-stud", (3.2, 4.5), (3.2, 8.5), (1.5, 0.8, "open"))
    for x0, y0, x1, y1 in (
        (0, 0, 4.2, 4.5),
        (4.2, 0, 6.5, 4.5),
        (0, 4.5, 3.2, 8.5),
        (3.2, 4.5, 6.5, 8.5),
        (6.5, 0, 11, 5.5),
        (6.5, 5.5, 11, 8.5),
    ):
        p.room(x0, y0, x1, y1)


def two_storeys(p: Plan) -> None:
    """Block walls on two storeys, a concrete slab, an open stair at one end."""
    for s in (0, 1):
        p.box("ref-brick-215", 0, 0, 18, 10, storey=s)
        p.wall("ref-block", (3.5, 0), (3.5, 10), (4.2, 1.6, "open"), storey=s)
        p.wall(
            "ref-block",
            (3.5, 4),
            (18, 4),
            (1.5, 0.9, "open"),
            (6.0, 0.9, "open"),
            (12, 0.9, "open"),
            storey=s,
        )
        p.wall(
            "ref-block",
            (3.5, 6),
            (18, 6),
            (2.5, 0.9, "open"),
            (8.0, 0.9, "ref-door"),
            (13, 0.9, "open"),
            storey=s,
        )
        for x in (8, 13):
            p.wall("ref-block", (x, 0), (x, 4), storey=s)
            p.wall("ref-block", (x, 6), (x, 10), storey=s)
        p.room(0, 0, 3.5, 10, "atrium", storey=s)
        p.room(3.5, 4, 18, 6, "corridor", storey=s)
        for x0, x1 in ((3.5, 8), (8, 13), (13, 18)):
            p.room(x0, 0, x1, 4, storey=s)
            p.room(x0, 6, x1, 10, storey=s)


def bent_corridor(p: Plan) -> None:
    """Brick rooms along a corridor that turns a corner."""
    p.box("ref-brick-215", 0, 0, 24, 20)
    p.wall("ref-brick-215", (0, 6), (18, 6), (2.5, 0.9, "open"), (9.5, 0.9, "ref-door"), (15, 0.9, "open"))
    p.wall("ref-brick-215", (0, 8), (16, 8), (4.0, 0.9, "ref-door"), (12, 0.9, "open"))
    p.wall("ref-brick-215", (16, 8), (16, 20), (2.0, 0.9, "open"), (8.0, 0.9, "open"))
    p.wall("ref-brick-215", (18, 6), (18, 20), (4.0, 0.9, "open"), (10.5, 0.9, "ref-door"))
    p.wall("ref-brick-215", (18, 0), (18, 6))
    for x in (6, 12):
        p.wall("ref-brick-215", (x, 0), (x, 6))
    p.wall("ref-brick-215", (8, 8), (8, 20))
    p.wall("ref-brick-215", (8, 14), (16, 14))
    p.wall("ref-brick-215", (18, 12), (24, 12))
    p.wall("ref-brick-215", (18, 6), (24, 6), (3.0, 0.9, "open"))
    for x0, y0, x1, y1 in (
        (0, 0, 6, 6),
        (6, 0, 12, 6),
        (12, 0, 18, 6),
        (18, 0, 24, 6),
        (0, 8, 8, 20),
        (8, 8, 16, 14),
        (8, 14, 16, 20),
        (18, 6, 24, 12),
        (18, 12, 24, 20),
    ):
        p.room(x0, y0, x1, y1)
    p.room(0, 6, 18, 8, "corridor")
    p.room(16, 8, 18, 20, "corridor")


def enfilade(p: Plan) -> None:
    """Concrete rooms that open one into the next, without a corridor."""
    p.box("ref-concrete-200", 0, 0, 20, 12)
    p.wall("ref-concrete-200", (5, 0), (5, 12), (1.0, 1.0, "open"), (9.5, 1.0, "open"))
    p.wall("ref-concrete-200", (10, 0), (10, 12), (4.0, 1.0, "open"), (7.0, 1.0, "open"))
    p.wall("ref-concrete-200", (15, 0), (15, 12), (1.0, 1.0, "open"), (10.5, 1.0, "ref-door"))
    p.wall("ref-concrete-200", (0, 6), (20, 6), (2.0, 1.0, "open"), (17, 1.0, "open"))
    for n in range(4):
        for y in (0, 6):
            p.room(5 * n, y, 5 * n + 5, y + 6)


def hall(p: Plan) -> None:
    """An open hall with two heavy stores in it."""
    p.box("ref-brick-215", 0, 0, 22, 15)
    for x0, y0, x1, y1, along in ((4, 5, 8, 10, 1.0), (14, 2, 17, 7, 2.0)):
        p.wall("ref-concrete-200", (x0, y0), (x1, y0))
        p.wall("ref-concrete-200", (x1, y0), (x1, y1), (along, 1.0, "open"))
        p.wall("ref-concrete-200", (x1, y1), (x0, y1))
        p.wall("ref-concrete-200", (x0, y1), (x0, y0))
    p.room(0, 0, 22, 15)
    p.room(4, 5, 8, 10)
    p.room(14, 2, 17, 7)


def office(p: Plan) -> None:
    """Stud offices along a corridor."""
    p.box("ref-brick-215", 0, 0, 26, 12)
    for y in (5, 7):
        doors = [(n * 5.2 + 1.0, 0.9, "open" if n % 2 else "ref-door") for n in range(5)]
        p.wall("ref-stud", (0, y), (26, y), *doors)
    for n in range(1, 5):
        p.wall("ref-stud", (5.2 * n, 0), (5.2 * n, 5))
        p.wall("ref-stud", (5.2 * n, 7), (5.2 * n, 12))
    for n in range(5):
        p.room(5.2 * n, 0, 5.2 * n + 5.2, 5)
        p.room(5.2 * n, 7, 5.2 * n + 5.2, 12)
    p.room(0, 5, 26, 7, "corridor")


def ring(p: Plan) -> None:
    """A corridor round a concrete core, block rooms outside it."""
    p.box("ref-brick-215", 0, 0, 26, 20)
    p.wall(
        "ref-block",
        (0, 5),
        (26, 5),
        (2, 0.9, "open"),
        (9, 0.9, "ref-door"),
        (16, 0.9, "open"),
        (23, 0.9, "open"),
    )
    p.wall("ref-block", (0, 15), (26, 15), (3, 0.9, "open"), (11, 0.9, "open"), (20, 0.9, "ref-door"))
    p.wall("ref-block", (6, 5), (6, 15), (4, 0.9, "open"))
    p.wall("ref-block", (20, 5), (20, 15), (6, 0.9, "open"))
    for x in (6, 13, 20):
        p.wall("ref-block", (x, 0), (x, 5))
        p.wall("ref-block", (x, 15), (x, 20))
    p.wall("ref-concrete-200", (8, 7), (18, 7))
    p.wall("ref-concrete-200", (18, 7), (18, 13), (2.5, 0.9, "ref-door"))
    p.wall("ref-concrete-200", (18, 13), (8, 13))
    p.wall("ref-concrete-200", (8, 13), (8, 7))
    for x0, x1 in ((0, 6), (6, 13), (13, 20), (20, 26)):
        p.room(x0, 0, x1, 5)
        p.room(x0, 15, x1, 20)
    p.room(0, 5, 6, 15)
    p.room(20, 5, 26, 15)
    p.room(6, 5, 20, 15, "corridor")
    p.room(8, 7, 18, 13)


def cottage(p: Plan) -> None:
    """A brick house of two storeys: stud rooms, a concrete floor, an open stair."""
    for s in (0, 1):
        p.box("ref-brick-215", 0, 0, 10, 8, storey=s)
        p.wall("ref-stud", (0, 4.4), (7, 4.4), (1.2, 0.8, "ref-door"), (5.4, 0.8, "open"), storey=s)
        p.wall("ref-brick", (7, 0), (7, 8), (5.6, 0.8, "open"), storey=s)
        p.wall("ref-stud", (3.6, 4.4), (3.6, 8), (1.0, 0.8, "ref-door"), storey=s)
        p.room(0, 0, 7, 4.4, storey=s)
        p.room(0, 4.4, 3.6, 8, storey=s)
        p.room(3.6, 4.4, 7, 8, storey=s)
        p.room(7, 3, 10, 8, storey=s)
        p.room(7, 0, 10, 3, "atrium", storey=s)


def stairwell(p: Plan, stair: str = "stair") -> None:
    """Block rooms on two storeys; two flights of a stair are the only hole in the concrete floor between."""
    for s in (0, 1):
        p.box("ref-brick-215", 0, 0, 14, 10, storey=s)
        p.wall(
            "ref-block", (0, 4), (14, 4), (2, 0.9, "open"), (6.2, 1.6, "open"), (11, 0.9, "open"), storey=s
        )
        p.wall("ref-block", (5, 4), (5, 10), (3, 0.9, "open"), storey=s)
        p.wall("ref-block", (9, 4), (9, 10), (1.5, 0.9, "ref-door"), storey=s)
        for x0, y0, x1, y1 in ((0, 0, 14, 4), (0, 4, 5, 10), (9, 4, 14, 10)):
            p.room(x0, y0, x1, y1, storey=s)
        p.room(5, 4, 9, 10, stair, storey=s)


def depot(p: Plan) -> None:
    """A metal-clad hall with stud offices, and a container in it."""
    p.box("ref-metal", 0, 0, 24, 14)
    p.wall("ref-stud", (0, 4), (14, 4), (1.5, 0.9, "ref-door"), (8, 0.9, "open"), (12, 0.9, "ref-door"))
    p.wall("ref-stud", (14, 0), (14, 4))
    for x in (5, 10):
        p.wall("ref-stud", (x, 0), (x, 4))
    p.wall("ref-metal", (16, 8), (21, 8))
    p.wall("ref-metal", (21, 8), (21, 11))
    p.wall("ref-metal", (21, 11), (16, 11))
    p.wall("ref-metal", (16, 11), (16, 8), (1.0, 1.0, "open"))
    p.room(0, 0, 24, 14)
    for x0, x1 in ((0, 5), (5, 10), (10, 14)):
        p.room(x0, 0, x1, 4)
    p.room(16, 8, 21, 11)


REFERENCES = (
    Reference(
        "school",
        "concrete-block corridor with ten rooms",
        school,
        ((0, 13.0, 8.2), (0, 9.0, 3.5)),
        True,
        True,
    ),
    Reference("house", "brick and plasterboard house", house, ((0, 5.2, 5.8), (0, 9.0, 2.0)), False, False),
    Reference(
        "two-storeys", "two storeys over a slab", two_storeys, ((0, 10.0, 5.0), (0, 6.0, 8.0)), True, True, 2
    ),
    Reference(
        "bent", "brick rooms on a bent corridor", bent_corridor, ((0, 9.0, 7.0), (0, 20.5, 9.0)), False, True
    ),
    Reference(
        "enfilade",
        "concrete rooms, one behind the other",
        enfilade,
        ((0, 7.0, 3.0), (0, 12.5, 9.0)),
        True,
        True,
    ),
    Reference("hall", "open hall with two heavy stores", hall, ((0, 11.0, 8.0), (0, 3.0, 3.0)), False, False),
    Reference(
        "office", "stud offices along a corridor", office, ((0, 8.0, 6.0), (0, 23.0, 2.5)), True, False
    ),
    Reference("ring", "corridor round a concrete core", ring, ((0, 13.0, 6.0), (0, 3.0, 10.0)), False, True),
    Reference("cottage", "two-storey house", cottage, ((0, 5.0, 3.0), (1, 2.0, 6.0)), False, False, 2),
    Reference(
        "stairwell",
        "block rooms about a stair, concrete floor",
        stairwell,
        ((0, 2.5, 7.0), (0, 12.0, 2.0)),
        False,
        True,
        2,
    ),
    Reference("depot", "metal-clad hall with offices", depot, ((0, 12.0, 9.0), (0, 3.0, 2.0)), False, True),
)
# The same without a hole in its floor, at 5 GHz alone: what the stair brings is the difference of both maps.
STAIRWELL = next(reference for reference in REFERENCES if reference.name == "stairwell")
SHUT = replace(STAIRWELL, name="stairwell-shut", build=partial(stairwell, stair="room"))


def faces(job: Job) -> dict[str, list[list[list[float]]]]:
    """Return flat faces by build-up code, each a ring of corners (x, y, z), ground included. [m]"""
    building = building_of(job)
    found: dict[str, list[list[list[float]]]] = {}
    o = building.obstacles
    for (x1, y1, x2, y2), (z0, z1), code in zip(
        o.ends_m.tolist(), o.heights_m.tolist(), o.build_ups, strict=True
    ):
        if code is not None:
            found.setdefault(code, []).append([[x1, y1, z0], [x2, y2, z0], [x2, y2, z1], [x1, y1, z1]])
    ground = building.inside[building.storeys[0].id]
    levels = [(0.0, ground, "ref-slab")]
    levels += [
        (s.z_m, s.area, "ref-roof" if s.name.startswith("roof") else "ref-slab") for s in building.slabs
    ]
    for z, area, code in levels:
        for triangle in shapely.get_parts(shapely.constrained_delaunay_triangles(area)):
            ring = [[x, y, z] for x, y in list(triangle.exterior.coords)[:3]]
            found.setdefault(code, []).append(ring)
    return found


def for_tracer(reference: Reference, f_ghz: float) -> dict[str, Any]:
    """Return all a tracer needs of a scene, as plain values."""
    job = reference.job()
    building = building_of(job)
    box = building.bounds
    materials = {}
    for code, (material, thickness_mm, _) in LAYERS.items():
        eps = permittivity(material, f_ghz)
        conductivity = -eps.imag * 2 * 3.141592653589793 * f_ghz * 1e9 * 8.8541878128e-12
        materials[code] = [eps.real, conductivity, thickness_mm / 1000]
    return {
        "name": reference.name,
        "f_ghz": f_ghz,
        "materials": materials,
        "faces": faces(job),
        "senders_m": [[x, y, HEIGHT_M * s + SENDER_M] for s, x, y in reference.senders],
        "planes_m": [HEIGHT_M * s + 1.0 for s in range(reference.storeys)],
        "box_m": [box.x0_m, box.y0_m, box.x1_m, box.y1_m],
        "cell_m": 0.5,
    }
