"""Floor plans made from a seed, with the truth known: walls, doors, room names.

Drawn the way drawings come: faces of walls (outline or filled), door swings, furniture, text;
as DXF text, as a PDF page or as a scanned picture, turned and noisy. Nothing here uses the
application's own exporters.
"""

import io
import random
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
import shapely
from PIL import Image, ImageDraw, ImageFilter, ImageFont
from shapely import affinity
from shapely.geometry import LineString, Polygon, box

Segment = tuple[float, float, float, float]
NAMES = ("Kitchen", "Hall", "Office", "Store", "Lounge", "Study", "Bedroom", "Utility", "Plant", "Class")


@dataclass
class Plan:
    """A generated plan in metres, y up as drawings have it."""

    walls: list[tuple[Segment, float]] = field(default_factory=list)
    doors: list[tuple[float, float, float, float]] = field(default_factory=list)
    rooms: list[tuple[str, Polygon]] = field(default_factory=list)
    furniture: list[Polygon] = field(default_factory=list)
    turn_deg: float = 0.0

    @property
    def truth(self) -> np.ndarray:
        return np.array([wall for wall, _ in self.walls])

    @property
    def solid(self) -> Polygon:
        """The area of the walls with the door openings cut out."""
        faces = [LineString([w[:2], w[2:]]).buffer(t / 2, cap_style="square") for w, t in self.walls]
        cuts = [LineString([d[:2], d[2:]]).buffer(0.25, cap_style="flat") for d in self.doors]
        return shapely.union_all(faces).difference(shapely.union_all(cuts) if cuts else Polygon())

    @property
    def faces(self) -> list[list[tuple[float, float]]]:
        rings = []
        for part in shapely.get_parts(self.solid):
            rings += [list(part.exterior.coords), *(list(hole.coords) for hole in part.interiors)]
        return rings

    def turned(self, degrees: float) -> "Plan":
        """The same plan turned about its corner."""

        def line(seg):
            turned = affinity.rotate(LineString([seg[:2], seg[2:]]), degrees, origin=(0, 0))
            (x1, y1), (x2, y2) = turned.coords
            return (x1, y1, x2, y2)

        def area(shape):
            return affinity.rotate(shape, degrees, origin=(0, 0))

        return Plan(
            [(line(w), t) for w, t in self.walls],
            [line(d) for d in self.doors],
            [(n, area(r)) for n, r in self.rooms],
            [area(f) for f in self.furniture],
            degrees,
        )


def plan(seed: int, width: float = 18.0, depth: float = 12.0, least_room: float = 3.0) -> Plan:
    """A building cut into rooms until none is much larger than asked."""
    rng = random.Random(seed)
    made = Plan()
    outer, inner = rng.choice((0.25, 0.3, 0.36)), rng.choice((0.1, 0.12, 0.15))
    for seg in ((0, 0, width, 0), (width, 0, width, depth), (width, depth, 0, depth), (0, depth, 0, 0)):
        made.walls.append((tuple(map(float, seg)), outer))

    def split(x0, y0, x1, y1):
        w, h = x1 - x0, y1 - y0
        if max(w, h) < 2 * least_room or (max(w, h) < 3 * least_room and rng.random() < 0.2):
            room = box(x0, y0, x1, y1)
            made.rooms.append((f"{rng.choice(NAMES)} {len(made.rooms) + 1}", room))
            furnish(x0, y0, x1, y1)
            return
        if w > h:
            cut = round(rng.uniform(x0 + least_room, x1 - least_room), 2)
            seg = (cut, y0, cut, y1)
            parts = ((x0, y0, cut, y1), (cut, y0, x1, y1))
        else:
            cut = round(rng.uniform(y0 + least_room, y1 - least_room), 2)
            seg = (x0, cut, x1, cut)
            parts = ((x0, y0, x1, cut), (x0, cut, x1, y1))
        made.walls.append((seg, inner))
        door(seg)
        for part in parts:
            split(*part)

    def door(seg):
        x0, y0, x1, y1 = seg
        long = abs(x1 - x0) + abs(y1 - y0)
        leaf = rng.choice((0.8, 0.9, 1.0))
        at = rng.uniform(0.4, max(0.5, long - leaf - 0.4))
        ux, uy = (x1 - x0) / long, (y1 - y0) / long
        made.doors.append((x0 + ux * at, y0 + uy * at, x0 + ux * (at + leaf), y0 + uy * (at + leaf)))

    def furnish(x0, y0, x1, y1):
        for _ in range(rng.randint(0, 2)):
            w, h = rng.uniform(0.5, 1.6), rng.uniform(0.4, 0.9)
            if x1 - x0 > w + 1.4 and y1 - y0 > h + 1.4:
                fx, fy = rng.uniform(x0 + 0.6, x1 - w - 0.6), rng.uniform(y0 + 0.6, y1 - h - 0.6)
                made.furniture.append(box(fx, fy, fx + w, fy + h))

    split(0.0, 0.0, width, depth)
    return made


def dxf(made: Plan, unit: float = 1000.0, insunits: int | None = 4, extra_entities: int = 0) -> str:
    """Write a plan as DXF text by hand, in millimetres unless told otherwise."""
    out: list[str] = ["0", "SECTION", "2", "HEADER", "9", "$ACADVER", "1", "AC1015"]
    if insunits is not None:
        out += ["9", "$INSUNITS", "70", str(insunits)]
    out += ["0", "ENDSEC", "0", "SECTION", "2", "BLOCKS"]
    out += [
        "0",
        "BLOCK",
        "8",
        "0",
        "2",
        "DOOR-LEAF",
        "70",
        "0",
        "10",
        "0",
        "20",
        "0",
        "30",
        "0",
        "3",
        "DOOR-LEAF",
    ]
    out += _line("A-DOOR", 0, 0, 0, unit) + _arc("A-DOOR", 0, 0, unit, 0, 90)
    out += ["0", "ENDBLK", "8", "0", "0", "ENDSEC", "0", "SECTION", "2", "ENTITIES"]
    for ring in made.faces:
        for (x1, y1), (x2, y2) in pairwise(ring):
            out += _line("A-WALL", x1 * unit, y1 * unit, x2 * unit, y2 * unit)
    for x1, y1, x2, y2 in made.doors:
        wide = float(np.hypot(x2 - x1, y2 - y1))
        turn = float(np.degrees(np.arctan2(y2 - y1, x2 - x1)))
        out += [
            "0",
            "INSERT",
            "8",
            "A-DOOR",
            "2",
            "DOOR-LEAF",
            "10",
            f"{x1 * unit}",
            "20",
            f"{y1 * unit}",
            "30",
            "0",
        ]
        out += ["41", f"{wide}", "42", f"{wide}", "43", "1", "50", f"{turn}"]
    for shape in made.furniture:
        ring = list(shape.exterior.coords)
        for (x1, y1), (x2, y2) in pairwise(ring):
            out += _line("A-FURN", x1 * unit, y1 * unit, x2 * unit, y2 * unit)
    for name, room in made.rooms:
        at = room.representative_point()
        out += ["0", "TEXT", "8", "A-ROOM-NAME", "10", f"{at.x * unit}", "20", f"{at.y * unit}", "30", "0"]
        out += ["40", f"{0.25 * unit}", "1", name]
    for number in range(extra_entities):
        x, y = (number % 200) * 0.09, (number // 200) * 0.12
        out += _line("A-HATCH", x * unit, y * unit, (x + 0.05) * unit, (y + 0.05) * unit)
    out += ["0", "ENDSEC", "0", "EOF", ""]
    return "\n".join(out)


def _line(layer, x1, y1, x2, y2):
    return [
        "0",
        "LINE",
        "8",
        layer,
        "10",
        f"{x1}",
        "20",
        f"{y1}",
        "30",
        "0",
        "11",
        f"{x2}",
        "21",
        f"{y2}",
        "31",
        "0",
    ]


def _arc(layer, x, y, r, a, b):
    return [
        "0",
        "ARC",
        "8",
        layer,
        "10",
        f"{x}",
        "20",
        f"{y}",
        "30",
        "0",
        "40",
        f"{r}",
        "50",
        f"{a}",
        "51",
        f"{b}",
    ]


def picture(
    made: Plan, dpi: int = 150, scale: int = 100, filled: bool = True, noise: float = 6.0, seed: int = 1
) -> bytes:
    """Print a plan at 1:scale, scan it at a resolution, with grain, blur and text; a PNG."""
    image, _ = scan(made, dpi, scale, filled, noise, seed)
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def scan(
    made: Plan, dpi: int = 150, scale: int = 100, filled: bool = True, noise: float = 6.0, seed: int = 1
):
    """As `picture`; the image, and a function from metres to its pixels."""
    k = dpi / 0.0254 / scale
    everything = made.truth.reshape(-1, 2)
    low, high = everything.min(axis=0) - 1.2, everything.max(axis=0) + 1.2
    size = tuple(int(n) for n in np.ceil((high - low) * k))

    def to_px(x, y):
        return ((x - low[0]) * k, (high[1] - y) * k)

    image = Image.new("L", size, 255)
    draw = ImageDraw.Draw(image)
    for part in shapely.get_parts(made.solid):
        draw.polygon([to_px(*p) for p in part.exterior.coords], fill=20 if filled else 255, outline=20)
        for hole in part.interiors:
            draw.polygon([to_px(*p) for p in hole.coords], fill=255, outline=20)
    if not filled:
        for ring in made.faces:
            draw.line([to_px(*p) for p in ring], fill=20, width=max(2, round(k * 0.025)))
    for x1, y1, x2, y2 in made.doors:
        r = float(np.hypot(x2 - x1, y2 - y1)) * k
        cx, cy = to_px(x1, y1)
        draw.arc([cx - r, cy - r, cx + r, cy + r], 270 - made.turn_deg, 360 - made.turn_deg, fill=60, width=2)
    for shape in made.furniture:
        draw.line([to_px(*p) for p in shape.exterior.coords], fill=70, width=2)
    font = ImageFont.load_default(size=max(10, round(0.28 * k)))
    for name, room in made.rooms:
        at = room.representative_point()
        draw.text(to_px(at.x, at.y), name, fill=50, font=font, anchor="mm")
    rng = np.random.default_rng(seed)
    grain = np.asarray(image, float) + rng.normal(0, noise, (size[1], size[0]))
    specks = rng.random((size[1], size[0])) < 0.0004
    grain[specks] = 40
    scanned = Image.fromarray(np.clip(grain, 0, 255).astype(np.uint8)).filter(ImageFilter.GaussianBlur(0.7))
    return scanned, to_px


def score(found: np.ndarray, truth: np.ndarray, within_m: float = 0.15) -> tuple[float, float]:
    """Return (share of the true length found, share of the found length that is false)."""
    return _covered(truth, found, within_m), 1 - _covered(found, truth, within_m)


def _covered(lines: np.ndarray, by: np.ndarray, within_m: float) -> float:
    if not len(lines) or not len(by):
        return 0.0
    near = shapely.union_all(shapely.linestrings(np.asarray(by).reshape(-1, 2, 2))).buffer(within_m)
    shapes = shapely.linestrings(np.asarray(lines).reshape(-1, 2, 2))
    return float(shapely.length(shapely.intersection(shapes, near)).sum() / shapely.length(shapes).sum())
