"""Drawings the readers were made with: how several hands draw, told by what came in wrong once."""

from collections.abc import Sequence
from typing import NamedTuple

from benchmarks.hands import writers
from benchmarks.hands.models import Author, ifc
from benchmarks.hands.strokes import Habit, strokes
from benchmarks.hands.truth import Plan, corridor, house


class Sent(NamedTuple):
    """A file somebody sends, and what it shows in truth."""

    name: str
    kind: str
    body: bytes
    plans: Sequence[Plan]
    named: bool = True


DE = ("Flur", "Büro", "Besprechung", "WC", "Lager", "Küche", "Büro Leitung", "Empfang", "Technik")
FR = ("Couloir", "Bureau", "Salle de réunion", "Cuisine", "Réserve", "Accueil", "Atelier")
EN = ("Corridor", "Classroom", "Office", "Store", "Staff room", "Laboratory", "Meeting", "Plant", "Classroom")
HOME = ("Kitchen", "Lounge", "Hall", "Bedroom", "Study", "Bathroom")
IT = ("Corridoio", "Ufficio", "Sala riunioni", "Bagno", "Archivio", "Ingresso", "Magazzino")


def dxfs() -> list[Sent]:
    """Six habits of CAD drawings."""
    out = []
    plan = corridor(EN, 3, ("swing", "double", "swing"))
    out.append(
        Sent(
            "pens by number, no unit, dimensions in mm",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(measures="mm", grid=True, frame=True)),
                {
                    "wall": "1",
                    "door": "2",
                    "window": "3",
                    "name": "4",
                    "dim": "5",
                    "furn": "6",
                    "grid": "7",
                    "frame": "8",
                },
                polylines=True,
            ),
            [plan],
        )
    )
    plan = corridor(DE, 5, ("swing", "half"), outer=0.365, inner=0.115)
    out.append(
        Sent(
            "German office in centimetres, header says nothing",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(measures="comma", area="{:.2f} m²", number="above", stairs=True)),
                {
                    "wall": "AR_WAENDE",
                    "door": "AR_TUEREN",
                    "window": "AR_FENSTER",
                    "name": "AR_RAUMSTEMPEL",
                    "dim": "AR_BEMASSUNG",
                    "furn": "AR_MOEBEL",
                    "stair": "AR_TREPPE",
                },
                unit=100,
                insunits=0,
                measured=False,
            ),
            [plan],
        )
    )
    plan = house(HOME, 2, bay=True)
    out.append(
        Sent(
            "house in inches with a bay, unit header wrong",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(measures="feet", windows="two", number="none")),
                {
                    "wall": "WALLS",
                    "door": "DOORS",
                    "window": "GLAZING",
                    "name": "TEXT",
                    "dim": "DIMS",
                    "furn": "FURNITURE",
                },
                unit=1 / 0.0254,
                insunits=4,
            ),
            [plan],
        )
    )
    plan = house(HOME, 4, slant=True).turned(23)
    out.append(
        Sent(
            "all on layer 0, turned, slanted, doors as leaves",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(windows="frame", number="one")),
                dict.fromkeys(("wall", "door", "window", "name", "furn"), "0"),
                insunits=4,
            ),
            [plan],
        )
    )
    low, up = corridor(FR, 7, storey=0), corridor(FR, 7, storey=1)
    both = strokes(low, Habit(title="PLAN DU REZ-DE-CHAUSSÉE", frame=False, measures="m")) + strokes(
        up.moved(0, 26), Habit(title="PLAN DU 1er ÉTAGE", measures="m")
    )
    out.append(
        Sent(
            "two storeys one above the other, French",
            "dxf",
            writers.dxf(
                both,
                {
                    "wall": "MURS",
                    "door": "PORTES",
                    "window": "FENETRES",
                    "name": "NOMS_LOCAUX",
                    "dim": "COTES",
                    "furn": "MOBILIER",
                    "title": "TITRES",
                },
                unit=1,
                insunits=6,
            ),
            [low, up],
        )
    )
    plan = corridor(IT, 9, ("swing", "leaf"))
    out.append(
        Sent(
            "single lines, Italian, old layer off",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(walls="single", windows="one", number="below"))
                + [
                    s._replace(pen="old")
                    for s in strokes(plan.moved(0.4, 0.6), Habit(walls="faces"))
                    if s.pen == "wall"
                ],
                {
                    "wall": "MURI",
                    "door": "PORTE",
                    "window": "FINESTRE",
                    "name": "NOMI",
                    "furn": "ARREDI",
                    "old": "MURI_VECCHI",
                },
                unit=1000,
                insunits=4,
                flags={"MURI_VECCHI": 1},
            ),
            [plan],
        )
    )
    return out


def pdfs() -> list[Sent]:
    """Six habits of printed drawings."""
    thick, thin = "0.7 w 0 0 0 RG", "0.18 w 0.3 0.3 0.3 RG 0.3 0.3 0.3 rg"
    pens = {
        "wall": thick,
        "door": "0.25 w 0 0 0 RG",
        "window": "0.25 w 0 0 0 RG",
        "furn": thin,
        "dim": thin,
        "grid": "0.1 w 0.6 0.6 0.6 RG",
        "frame": "0.5 w 0 0 0 RG",
    }
    out = []
    plan = corridor(EN, 11)
    out.append(
        Sent(
            "pens by width, scale in words",
            "pdf",
            writers.pdf([strokes(plan, Habit(measures="mm", frame=True, note="Scale 1:100 @ A3"))], pens),
            [plan],
        )
    )
    plan = corridor(DE, 12, ("swing", "slide"))
    one = dict.fromkeys(pens, "0.3 w 0 0 0 RG")
    out.append(
        Sent(
            "one pen for all, dimensions, no scale",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(measures="comma", area="{:.1f} m²"))], one, scale=75, packed=False
            ),
            [plan],
        )
    )
    plan = house(HOME, 5, bay=True)
    out.append(
        Sent(
            "filled walls, colours, flattened curves, turned page",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(walls="filled", number="none", measures="m"))],
                pens | {"wall": "0.15 0.15 0.15 rg", "door": "0.25 w 0.8 0 0 RG"},
                scale=50,
                rotate=90,
                curves=False,
            ),
            [plan],
        )
    )
    low, up = corridor(FR, 14, storey=0), corridor(FR, 14, storey=1)
    out.append(
        Sent(
            "two pages, two storeys",
            "pdf",
            writers.pdf(
                [
                    strokes(low, Habit(title="Rez-de-chaussée", frame=True, note="Échelle 1:100")),
                    strokes(up, Habit(title="Étage 1", frame=True, note="Échelle 1:100")),
                ],
                pens,
            ),
            [low, up],
        )
    )
    plan = corridor(IT, 15)
    out.append(
        Sent(
            "hatched walls in one width",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(walls="hatched", note="Scala 1:100", frame=True, number="above"))],
                pens | {"hatch": "0.1 w 0 0 0 RG", "wall": "0.35 w 0 0 0 RG"},
            ),
            [plan],
        )
    )
    plan = house(HOME, 6, slant=True)
    out.append(
        Sent(
            "feet and inches, quarter inch scale",
            "pdf",
            writers.pdf(
                [
                    strokes(
                        plan, Habit(measures="feet", frame=True, number="none", note='Scale: 1/4" = 1\'-0"')
                    )
                ],
                pens,
                scale=48,
                size=(2448, 1584),
            ),
            [plan],
        )
    )
    return out


def svgs() -> list[Sent]:
    """Six habits of SVG drawings."""
    sheet = "<style>.w{fill:none;stroke:#000;stroke-width:2}.d,.n{fill:none;stroke:#555;stroke-width:.7}.f{fill:none;stroke:#999;stroke-width:.5}.t{font-size:6px}.m{fill:none;stroke:#777;stroke-width:.4}</style>"
    short = {
        "wall": "w",
        "door": "d",
        "window": "n",
        "furn": "f",
        "name": "t",
        "dim": "m",
        "title": "t",
        "frame": "f",
        "grid": "m",
    }
    out = []
    plan = corridor(EN, 21)
    out.append(
        Sent(
            "classes and a style sheet, pixels, dimensions",
            "svg",
            writers.svg(
                strokes(plan, Habit(measures="mm")),
                short,
                sheet,
                32,
                'width="1400" height="900" viewBox="0 0 1400 900"',
            ),
            [plan],
        )
    )
    plan = corridor(DE, 22)
    words = {
        "wall": "waende",
        "door": "tueren",
        "window": "fenster",
        "furn": "moebel",
        "name": "raumnamen",
        "dim": "masse",
    }
    out.append(
        Sent(
            "classes that are words, paper millimetres",
            "svg",
            writers.svg(
                strokes(plan, Habit(area="{:.1f} m²", number="above")),
                words,
                "",
                10,
                'width="420mm" height="297mm" viewBox="0 0 420 297"',
            ),
            [plan],
        )
    )
    plan = house(HOME, 7, bay=True)
    widths = {
        "wall": 'stroke="black" stroke-width="3" fill="none"',
        "door": 'stroke="black" stroke-width="1" fill="none"',
        "window": 'stroke="black" stroke-width="1" fill="none"',
        "furn": 'stroke="#888" stroke-width="1" fill="none"',
        "name": "",
        "dim": 'stroke="#888" stroke-width="0.5" fill="none"',
    }
    out.append(
        Sent(
            "widths only, doors as arcs",
            "svg",
            writers.svg(
                strokes(plan, Habit(number="none", measures="m")),
                widths,
                "",
                40,
                'viewBox="0 0 900 700"',
                groups_by="how",
            ),
            [plan],
        )
    )
    plan = corridor(FR, 24)
    fills = widths | {"wall": 'style="fill:#333;stroke:none"'}
    out.append(
        Sent(
            "filled, inline styles, tspans",
            "svg",
            writers.svg(
                strokes(plan, Habit(walls="filled", area="{:.1f} m2")),
                fills,
                "",
                25,
                'viewBox="0 0 1000 700"',
                groups_by="how",
                tspans=True,
            ),
            [plan],
        )
    )
    plan = corridor(IT, 25, ("double", "swing"))
    out.append(
        Sent(
            "full size in metres",
            "svg",
            writers.svg(
                strokes(plan, Habit(number="below")),
                short,
                sheet.replace("6px", "0.3px"),
                1,
                'width="40m" height="30m" viewBox="0 0 40 30"',
                at=(2, 2),
            ),
            [plan],
        )
    )
    plan = house(HOME, 8, slant=True)
    out.append(
        Sent(
            "no scale, nothing measured, only doors",
            "svg",
            writers.svg(
                strokes(plan, Habit(number="none", furniture=False)),
                short,
                sheet,
                17,
                'viewBox="0 0 400 300"',
            ),
            [plan],
        )
    )
    return out


def pictures() -> list[Sent]:
    """Six pictures: scans, a photograph, a screen."""
    ink = {
        "wall": (25, 0.05),
        "furn": (110, 0.02),
        "name": (30, 0.02),
        "dim": (80, 0.015),
        "door": (60, 0.02),
        "window": (60, 0.02),
    }
    out = []
    plan = corridor(EN, 31)
    out.append(
        Sent(
            "scan, filled, turned 1.4",
            "picture",
            writers.picture(strokes(plan, Habit(walls="filled", measures="m")), pens=ink, turn=1.4),
            [plan],
        )
    )
    plan = corridor(DE, 32)
    out.append(
        Sent(
            "thin faces on grey paper",
            "picture",
            writers.picture(
                strokes(plan, Habit(measures="mm")),
                pens=ink | {"wall": (90, 0.02)},
                paper=190,
                blur=1.0,
                dpi=130,
            ),
            [plan],
        )
    )
    plan = corridor(FR, 33)
    out.append(
        Sent(
            "shadow over a filled plan",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", area="{:.1f} m2")), pens=ink, shadow=0.6, kind="JPEG"
            ),
            [plan],
        )
    )
    plan = house(HOME, 9)
    out.append(
        Sent(
            "photographed leaflet",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", number="none", measures="m")),
                pens=ink,
                camera=(24, -12, 3),
                kind="JPEG",
                dpi=200,
                scale=75,
            ),
            [plan],
        )
    )
    plan = house(HOME, 10, slant=True)
    out.append(
        Sent(
            "slanted wing, filled, scanned",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", number="none", measures="m")), pens=ink, turn=-2.2
            ),
            [plan],
        )
    )
    plan = corridor(IT, 36)
    out.append(
        Sent(
            "screen shot, small",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", furniture=False, text_m=0.3)),
                pens=ink,
                dpi=72,
                scale=100,
                grain=1,
                blur=0.3,
            ),
            [plan],
        )
    )
    return out


def models() -> list[Sent]:
    """Six habits of building models."""
    low, up = corridor(DE, 41, storey=0), corridor(DE, 41, storey=1)
    plan, bay = corridor(EN, 43), house(HOME, 12, bay=True)
    return [
        Sent(
            "reference line on the outer face, two storeys",
            "ifc",
            ifc([low, up], Author(face="left")),
            [low, up],
        ),
        Sent(
            "reference line on the other face, feet",
            "ifc",
            ifc([plan], Author(unit=1 / 0.3048, face="right")),
            [plan],
        ),
        Sent(
            "curved bay by its axis, centimetres",
            "ifc",
            ifc([bay], Author(unit=100.0, long_names=False)),
            [bay],
        ),
        Sent(
            "no storeys, solids alone",
            "ifc",
            ifc([low, up], Author(storeys=False, axis=False, unit=1.0)),
            [low, up],
        ),
        Sent("doors that fill no opening", "ifc", ifc([plan], Author(loose=True, face="core")), [plan]),
        Sent(
            "two wings at one level",
            "ifc",
            ifc([plan], Author(split=True, materials=("Concrete block", "Stud partition"))),
            [plan],
        ),
    ]


def files() -> list[Sent]:
    """Return all of them."""
    return [*dxfs(), *models(), *pdfs(), *svgs(), *pictures()]
