"""Building models as STEP text of several authoring habits, from plans whose truth is known."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from benchmarks.hands.truth import Bend, Plan
from benchmarks.models import Step, _guid


@dataclass
class Author:
    """How a modeller writes: where a wall's reference line lies, how bodies and openings are made, what is said."""

    unit: float = 1000.0
    face: str = "centre"
    body: bool = True
    axis: bool = True
    storeys: bool = True
    loose: bool = False
    long_names: bool = True
    materials: tuple[str, str] = ("Brick facing", "Gypsum plasterboard")
    cut: bool = False
    split: bool = False
    schema: str = "IFC4"


def ifc(plans: Sequence[Plan], author: Author) -> bytes:
    """Write a model of storeys three metres high."""
    s, u = Step(), author.unit
    context = s.add(
        f"IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-05,{s.add(f'IFCAXIS2PLACEMENT3D({s.point(0, 0, 0)},$,$)')},$)"
    )
    units = s.add(f"IFCUNITASSIGNMENT(({_length_unit(s, u)}))")
    project = s.add(f"IFCPROJECT('{_guid('p')}',$,'M',$,$,$,$,({context}),{units})")
    building = s.add(f"IFCBUILDING('{_guid('b')}',$,'B',$,$,{s.placement(0, 0, 0)},$,$,.ELEMENT.,$,$,$)")
    s.add(f"IFCRELAGGREGATES('{_guid('pb')}',$,$,$,{project},({building}))")
    levels = []
    for number, plan in enumerate(plans):
        z = number * 3.0
        place = s.placement(0, 0, z * u)
        parts = _elements(s, plan, author, context, place, f"{number}")
        if not author.storeys:
            s.add(
                f"IFCRELCONTAINEDINSPATIALSTRUCTURE('{_guid(f'c{number}')}',$,$,$,({','.join(parts[0])}),{building})"
            )
            s.add(f"IFCRELAGGREGATES('{_guid(f's{number}')}',$,$,$,{building},({','.join(parts[1])}))")
            continue
        wings = 2 if author.split else 1
        for wing in range(wings):
            level = s.add(
                f"IFCBUILDINGSTOREY('{_guid(f'l{number}{wing}')}',$,'Level {number}{'AB'[wing] if author.split else ''}',$,$,{place},$,$,.ELEMENT.,{z * u:.3f})"
            )
            levels.append(level)
            made = parts[0][wing::wings]
            s.add(
                f"IFCRELCONTAINEDINSPATIALSTRUCTURE('{_guid(f'c{number}{wing}')}',$,$,$,({','.join(made)}),{level})"
            )
            s.add(
                f"IFCRELAGGREGATES('{_guid(f's{number}{wing}')}',$,$,$,{level},({','.join(parts[1][wing::wings])}))"
            )
    if levels:
        s.add(f"IFCRELAGGREGATES('{_guid('bl')}',$,$,$,{building},({','.join(levels)}))")
    body = "\n".join(s.lines)
    text = (
        "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('m','',(''),(''),'','','');\n"
        f"FILE_SCHEMA(('{author.schema}'));\nENDSEC;\nDATA;\n{body}\nENDSEC;\nEND-ISO-10303-21;\n"
    ).encode()
    return text[: len(text) * 2 // 3] if author.cut else text


def _length_unit(s: Step, u: float) -> str:
    if abs(u - 1 / 0.3048) < 1e-6:
        metre = s.add("IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)")
        size = s.add(f"IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.3048),{metre})")
        dims = s.add("IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0)")
        return s.add(f"IFCCONVERSIONBASEDUNIT({dims},.LENGTHUNIT.,'FOOT',{size})")
    prefix = {1000.0: ".MILLI.", 100.0: ".CENTI.", 1.0: "$"}[u]
    return s.add(f"IFCSIUNIT(*,.LENGTHUNIT.,{prefix},.METRE.)")


def _elements(
    s: Step, plan: Plan, author: Author, context: str, place: str, key: str
) -> tuple[list[str], list[str]]:
    walls, u = [], author.unit
    holes = [("door", d) for d in plan.doors] + [("window", w) for w in plan.windows]
    for index, (seg, thick) in enumerate(plan.walls):
        wall, at = _wall(s, seg, thick, author, context, place, f"{key}w{index}")
        walls.append(wall)
        a, b = np.array(seg[:2]), np.array(seg[2:])
        way = (b - a) / np.hypot(*(b - a))
        for number, (kind, hole) in enumerate(holes):
            middle = (np.array(hole.a) + np.array(hole.b)) / 2 - a
            along, aside = float(middle @ way), float(abs(middle @ np.array([-way[1], way[0]])))
            if aside > 0.01 or not 0 < along < np.hypot(*(b - a)):
                continue
            name = f"{key}o{index}-{number}"
            if author.loose:
                walls.append(_filling(s, kind, hole, way, a, along, place, u, name))
                continue
            sill, high = (0.9, 1.2) if kind == "window" else (0.0, 2.1)
            spot = s.placement((along - hole.wide / 2) * u, 0, sill * u, at)
            shape = s.box(context, 0, -0.5 * u, hole.wide * u, 0.5 * u, high * u)
            void = s.add(
                f"IFCOPENINGELEMENT('{_guid(name)}',$,'O',$,$,{spot},{s.add(f'IFCPRODUCTDEFINITIONSHAPE($,$,({shape}))')},$,.OPENING.)"
            )
            s.add(f"IFCRELVOIDSELEMENT('{_guid(name + 'v')}',$,$,$,{wall},{void})")
            fill = s.add(
                f"IFC{kind.upper()}('{_guid(name + 'f')}',$,'{kind}',$,$,{spot},$,$,{high * u:.3f},{hole.wide * u:.3f},$,$,$)"
            )
            s.add(f"IFCRELFILLSELEMENT('{_guid(name + 'g')}',$,$,$,{void},{fill})")
            walls.append(fill)
    for index, bend in enumerate(plan.bends):
        walls.append(_bent(s, bend, author, context, place, f"{key}c{index}"))
    spaces = []
    for index, (number, name, room) in enumerate(plan.rooms):
        ring = list(room.exterior.coords)
        corners = ",".join(s.point(x * u, y * u) for x, y in ring)
        profile = s.add(f"IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,{s.add(f'IFCPOLYLINE(({corners}))')})")
        shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({s.prism(context, profile, 2.6 * u)}))")
        first, long = (
            (f"'{number}'", f"'{_escaped(name)}'")
            if author.long_names
            else (f"'{number} {_escaped(name)}'", "$")
        )
        spaces.append(
            s.add(
                f"IFCSPACE('{_guid(f'{key}r{index}')}',$,{first},$,$,{place},{shape},{long},.ELEMENT.,.INTERNAL.,$)"
            )
        )
    return walls, spaces


def _escaped(words: str) -> str:
    """Letters beyond ASCII as exchange files write them. Source: ISO 10303-21, 6.4.3."""
    return "".join(c if ord(c) < 127 else f"\\X2\\{ord(c):04X}\\X0\\" for c in words).replace("'", "''")


def _reference(author: Author, thick: float) -> tuple[float, float, str]:
    """Return how far the reference line lies left of the centre, the layers' offset from it, and their sense."""
    half = thick / 2
    return {
        "centre": (0.0, -half, "POSITIVE"),
        "left": (half, 0.0, "NEGATIVE"),
        "right": (-half, 0.0, "POSITIVE"),
        "core": (half - 0.05, 0.05, "NEGATIVE"),
    }[author.face]


def _wall(s, seg, thick, author, context, place, key):
    u = author.unit
    a, b = np.array(seg[:2]), np.array(seg[2:])
    long = float(np.hypot(*(b - a)))
    way = (b - a) / long
    left, offset, sense = _reference(author, thick)
    at = a + np.array([-way[1], way[0]]) * left
    spot = s.placement(at[0] * u, at[1] * u, 0, place, (float(way[0]), float(way[1])))
    shapes = []
    if author.axis:
        line = s.add(f"IFCPOLYLINE(({s.point(0, 0)},{s.point(long * u, 0)}))")
        shapes.append(s.add(f"IFCSHAPEREPRESENTATION({context},'Axis','Curve2D',({line}))"))
    if author.body:
        low, high = -left - thick / 2, -left + thick / 2
        shapes.append(s.box(context, -thick / 2 * u, low * u, (long + thick / 2) * u, high * u, 3.0 * u))
    shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({','.join(shapes)}))")
    wall = s.add(f"IFCWALL('{_guid(key)}',$,'W {key}',$,$,{spot},{shape},$,$)")
    _layered(s, wall, thick, author, offset, sense, key)
    return wall, spot


def _layered(s, wall, thick, author, offset, sense, key) -> None:
    name = author.materials[0 if thick > 0.2 else 1]
    material = s.add(f"IFCMATERIAL('{_escaped(name)}',$,$)")
    layer = s.add(f"IFCMATERIALLAYER({material},{thick * author.unit:.3f},$,$,$,$,$)")
    layers = s.add(f"IFCMATERIALLAYERSET(({layer}),'set',$)")
    usage = s.add(f"IFCMATERIALLAYERSETUSAGE({layers},.AXIS2.,.{sense}.,{offset * author.unit:.3f},$)")
    s.add(f"IFCRELASSOCIATESMATERIAL('{_guid(key + 'm')}',$,$,$,({wall}),{usage})")


def _bent(s, bend: Bend, author: Author, context, place, key) -> str:
    u = author.unit
    spot = s.placement(bend.x * u, bend.y * u, 0, place)
    circle = s.add(f"IFCCIRCLE({s.add(f'IFCAXIS2PLACEMENT2D({s.point(0, 0)},$)')},{bend.r * u:.4f})")
    ends = [
        s.point(bend.r * u * math.cos(math.radians(t)), bend.r * u * math.sin(math.radians(t)))
        for t in (bend.start, bend.stop)
    ]
    line = s.add(f"IFCTRIMMEDCURVE({circle},({ends[0]}),({ends[1]}),.T.,.CARTESIAN.)")
    axis = s.add(f"IFCSHAPEREPRESENTATION({context},'Axis','Curve2D',({line}))")
    shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({axis}))")
    wall = s.add(f"IFCWALL('{_guid(key)}',$,'C {key}',$,$,{spot},{shape},$,$)")
    _layered(s, wall, bend.thick, author, -bend.thick / 2, "POSITIVE", key)
    return wall


def _filling(s, kind, hole, way, a, along, place, u, key) -> str:
    at = a + way * (along - hole.wide / 2)
    sill, high = (0.9, 1.2) if kind == "window" else (0.0, 2.1)
    spot = s.placement(at[0] * u, at[1] * u, sill * u, place, (float(way[0]), float(way[1])))
    return s.add(
        f"IFC{kind.upper()}('{_guid(key)}',$,'{kind}',$,$,{spot},$,$,{high * u:.3f},{hole.wide * u:.3f},$,$,$)"
    )
