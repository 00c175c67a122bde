"""Drawings by other hands, made to be scored and not to be tuned on: other plans, pens, languages, habits."""

import io
from itertools import pairwise

import numpy as np
from PIL import Image

from benchmarks.hands import writers
from benchmarks.hands.models import Author, ifc
from benchmarks.hands.strokes import Habit, Stroke, strokes
from benchmarks.hands.truth import Plan, corridor, house
from benchmarks.hands.tuned import Sent

ES = ("Pasillo", "Despacho", "Sala de juntas", "Cocina", "Almacén", "Recepción", "Aseo", "Archivo")
NL = ("Gang", "Kantoor", "Vergaderkamer", "Keuken", "Berging", "Bibliotheek", "Toilet")
PL = ("Korytarz", "Biuro", "Sala konferencyjna", "Kuchnia", "Magazyn", "Łazienka", "Biblioteka")
SV = ("Korridor", "Kontor", "Mötesrum", "Kök", "Förråd", "Klassrum", "Toalett", "Bibliotek", "Kontor")
PT = ("Corredor", "Escritório", "Sala de reuniões", "Cozinha", "Arrumos", "Biblioteca", "Sanitários")
HOME = ("Dining", "Living", "Utility", "Nursery", "Bath", "Kitchen", "Bedroom", "Study")


def chained(plan: Plan, cm: bool = False) -> list[Stroke]:
    """Lengths along the outer wall as one line with ticks, the texts above it: no line is as long as a text says."""
    xs = sorted({round(x, 3) for w, _ in plan.walls for x in (w[0], w[2]) if min(w[1], w[3]) < 0.5})
    out = [Stroke("dim", "line", (xs[0], -1.6, xs[-1], -1.6))]
    for x in xs:
        out.append(Stroke("dim", "line", (x, -1.85, x, -1.35)))
    for a, b in pairwise(xs):
        words = f"{(b - a) * 100:.0f}" if cm else f"{(b - a):.2f}"
        out.append(Stroke("dim", "text", ((a + b) / 2, -1.45, 0.18, words, 0)))
    return out


def columned(plan: Plan) -> list[Stroke]:
    """Columns in the corners of the corridor, thicker than its walls, filled."""
    x0, y0, x1, y1 = plan.rooms[0][2].bounds
    out = []
    for x in np.linspace(x0 + 3, x1 - 3, 3):
        for y in (y0, y1):
            ring = [
                (x - 0.2, y - 0.2),
                (x + 0.2, y - 0.2),
                (x + 0.2, y + 0.2),
                (x - 0.2, y + 0.2),
                (x - 0.2, y - 0.2),
            ]
            out.append(Stroke("col", "fill", [ring]))
    return out


def dxfs() -> list[Sent]:
    """Six of them."""
    out = []
    plan = corridor(ES, 51, ("swing", "slide"), outer=0.28, inner=0.1)
    layers = {
        "wall": "A-MUROS",
        "door": "A-PUERTAS",
        "window": "A-VENTANAS",
        "name": "A-LOCALES",
        "dim": "A-COTAS",
        "furn": "A-MOBILIARIO",
        "col": "A-PILARES",
    }
    body = writers.dxf(
        [*strokes(plan, Habit(number="above", area="S: {:.2f} m2")), *chained(plan), *columned(plan)],
        layers,
        unit=1,
        insunits=None,
    )
    out.append(Sent("Spanish, metres unsaid, chains, columns", "dxf", body, [plan]))
    plan = corridor(PL, 52, ("double", "swing"), outer=0.42, inner=0.12)
    layers = {
        "wall": "SCIANY",
        "door": "DRZWI",
        "window": "OKNA",
        "name": "OPISY",
        "dim": "WYMIARY",
        "furn": "MEBLE",
        "hatch": "WYPELNIENIE",
    }
    body = writers.dxf(
        [*strokes(plan, Habit(walls="hatched", number="below", area="{:.1f} m2")), *chained(plan, cm=True)],
        layers,
        unit=100,
        insunits=4,
    )
    out.append(Sent("Polish, hatched, centimetres called millimetres", "dxf", body, [plan]))
    plan = house(HOME, 53, outer=0.24, inner=0.1, bay=True)
    layers = {
        "wall": "Layer1",
        "door": "Layer3",
        "window": "Layer1",
        "name": "Layer2",
        "dim": "Layer4",
        "furn": "Layer5",
    }
    body = writers.dxf(
        strokes(plan, Habit(measures="feet", number="none", windows="frame")),
        layers,
        unit=1 / 0.3048,
        insunits=0,
        measured=False,
        polylines=True,
    )
    out.append(Sent("layers by number, feet, windows on the walls' layer", "dxf", body, [plan]))
    parts = [corridor(NL, 54, storey=n) for n in range(3)]
    words = ("Kelder", "Begane grond", "Eerste verdieping")
    drawn = [
        s
        for n, p in enumerate(parts)
        for s in strokes(p.moved(n * 32.0, 0), Habit(title=words[n], frame=False))
    ]
    section = [Stroke("wall", "line", (0, y, 20, y)) for y in (-30, -27, -24, -23.7)]
    section += [Stroke("wall", "line", (x, -30, x, -23.7)) for x in (0, 0.3, 6, 12, 19.7, 20)]
    section.append(Stroke("title", "text", (8, -32, 0.5, "Doorsnede A-A", 0)))
    layers = {
        "wall": "MUREN",
        "door": "DEUREN",
        "window": "KOZIJNEN",
        "name": "RUIMTES",
        "furn": "MEUBILAIR",
        "title": "TITELS",
    }
    out.append(
        Sent(
            "three storeys beside each other and a section",
            "dxf",
            writers.dxf(drawn + section, layers, insunits=4),
            parts,
        )
    )
    plan = corridor(SV, 55, ("arc", "swing"), outer=0.3, inner=0.15).turned(-31)
    layers = {
        "wall": "A-40-VÄGG",
        "door": "A-42-DÖRR",
        "window": "A-42-FÖNSTER",
        "name": "A-RUM",
        "furn": "A-INREDNING",
        "stair": "A-TRAPPA",
    }
    out.append(
        Sent(
            "Swedish, turned, no leaves",
            "dxf",
            writers.dxf(strokes(plan, Habit(stairs=True, number="one", windows="two")), layers, insunits=4),
            [plan],
        )
    )
    plan = corridor(PT, 56, ("half", "leaf"), outer=0.25, inner=0.14)
    layers = {
        "wall": "PAREDES",
        "door": "PORTAS",
        "window": "JANELAS",
        "name": "TEXTOS",
        "furn": "MOBILIARIO",
        "grid": "EIXOS",
        "frame": "FOLHA",
    }
    out.append(
        Sent(
            "Portuguese, frame and grid on the sheet",
            "dxf",
            writers.dxf(
                strokes(plan, Habit(grid=True, frame=True, number="above")), layers, unit=1000, insunits=None
            ),
            [plan],
        )
    )
    return out


def models() -> list[Sent]:
    """Six of them."""
    low, up = corridor(SV, 61, storey=0), corridor(SV, 61, storey=1)
    bay, plan = house(HOME, 62, bay=True), corridor(ES, 63)
    slanted = house(HOME, 64, slant=True).turned(14)
    return [
        Sent("slanted and turned, line on the face", "ifc", ifc([slanted], Author(face="left")), [slanted]),
        Sent(
            "old schema, Swedish, line through the core",
            "ifc",
            ifc([low, up], Author(face="core", schema="IFC2X3")),
            [low, up],
        ),
        Sent("bay, axis alone", "ifc", ifc([bay], Author(body=False, face="right")), [bay]),
        Sent(
            "Spanish, names in one word, metres",
            "ifc",
            ifc(
                [plan],
                Author(unit=1.0, long_names=False, face="right", materials=("Ladrillo", "Cartón yeso")),
            ),
            [plan],
        ),
        Sent("no storeys, doors alone", "ifc", ifc([low, up], Author(storeys=False, loose=True)), [low, up]),
        Sent(
            "solids alone, feet, wings",
            "ifc",
            ifc([plan], Author(unit=1 / 0.3048, axis=False, split=True)),
            [plan],
        ),
    ]


def pdfs() -> list[Sent]:
    """Six of them."""
    out = []
    black = "0 0 0 RG 0 0 0 rg"
    pens = {
        "wall": f"1.0 w {black}",
        "door": f"0.35 w {black}",
        "window": f"0.35 w {black}",
        "furn": f"0.13 w {black}",
        "dim": f"0.18 w {black}",
        "frame": f"1.4 w {black}",
        "hatch": f"0.13 w {black}",
        "grid": "0.2 w 0.7 0.7 0.7 RG",
    }
    plan = corridor(ES, 71, ("swing", "double"))
    out.append(
        Sent(
            "grid, hatch on a floor, scale in Spanish",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(grid=True, frame=True, floor_hatch=True, note="Escala 1/100"))], pens
            ),
            [plan],
        )
    )
    plan = corridor(NL, 72, ("swing", "arc"))
    fills = pens | {"wall": "0.6 g", "col": "0.2 g"}
    out.append(
        Sent(
            "grey filled walls, columns, chains",
            "pdf",
            writers.pdf(
                [[*strokes(plan, Habit(walls="filled", number="below")), *chained(plan), *columned(plan)]],
                fills,
                scale=125,
            ),
            [plan],
        )
    )
    plan = corridor(PT, 73, ("swing",)).turned(12)
    out.append(
        Sent(
            "turned plan, two pens, areas alone",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(area="{:.2f} m²", number="above"))],
                dict.fromkeys(pens, f"0.4 w {black}") | {"wall": f"0.6 w {black}"},
                scale=50,
                size=(1684, 1191),
                at=(500, 150),
                curves=False,
            ),
            [plan],
        )
    )
    parts = [corridor(PT, 74, storey=n) for n in range(3)]
    titles = ("Planta cave", "Planta piso 0", "Planta piso 1")
    pages = [strokes(p, Habit(title=titles[n], frame=True, note="Escala 1:100")) for n, p in enumerate(parts)]
    note = [
        Stroke("frame", "text", (5, 5, 0.4, "Notas gerais", 0)),
        *(Stroke("frame", "line", (0, y, 10, y)) for y in range(30)),
    ]
    out.append(
        Sent("three storeys on three pages and one of notes", "pdf", writers.pdf([note, *pages], pens), parts)
    )
    plan = house(HOME, 75, bay=True)
    out.append(
        Sent(
            "half size print, quarter inch",
            "pdf",
            writers.pdf(
                [strokes(plan, Habit(measures="feet", number="none", frame=True, windows="two"))],
                pens,
                scale=96,
                size=(1224, 792),
                at=(150, 200),
            ),
            [plan],
        )
    )
    plan = corridor(SV, 76, ("half", "swing"))
    colours = {
        "wall": "0.5 w 0 0 0.6 RG",
        "door": "0.5 w 0.8 0.4 0 RG",
        "window": "0.5 w 0 0.6 0.6 RG",
        "furn": "0.5 w 0.6 0.6 0.6 RG",
        "dim": "0.5 w 0 0.5 0 RG 0 0.5 0 rg",
    }
    out.append(
        Sent(
            "one width, colours, chains",
            "pdf",
            writers.pdf(
                [[*strokes(plan, Habit(number="above")), *chained(plan)]], colours, scale=100, rotate=90
            ),
            [plan],
        )
    )
    return out


def svgs() -> list[Sent]:
    """Six of them."""
    out = []
    sheet = "<style>path{fill:none}.c1{stroke:#111;stroke-width:3.2}.c2,.c3{stroke:#444;stroke-width:1}.c4{stroke:#aaa;stroke-width:1}.c5{font-family:serif}.c6{stroke:#777;stroke-width:.6}</style>"
    short = {
        "wall": "c1",
        "door": "c2",
        "window": "c3",
        "furn": "c4",
        "name": "c5",
        "dim": "c6",
        "title": "c5",
        "grid": "c6",
        "frame": "c4",
    }
    plan = corridor(PT, 81)
    out.append(
        Sent(
            "other classes, centimetres in chains",
            "svg",
            writers.svg(
                [*strokes(plan, Habit()), *chained(plan, cm=True)],
                short,
                sheet,
                37.5,
                'viewBox="0 0 1500 1000"',
            ),
            [plan],
        )
    )
    plan = corridor(NL, 82, ("double", "swing"))
    words = {
        "wall": "muren",
        "door": "deuren",
        "window": "ramen",
        "furn": "meubels",
        "name": "ruimte",
        "dim": "maat",
        "grid": "as",
    }
    out.append(
        Sent(
            "Dutch words, grid, millimetres of paper at 1:50",
            "svg",
            writers.svg(
                strokes(plan, Habit(grid=True, area="{:.1f} m²")),
                words,
                "",
                20,
                'width="841mm" height="594mm" viewBox="0 0 841 594"',
            ),
            [plan],
        )
    )
    plan = house(HOME, 83, bay=True)
    fills = {
        "wall": 'fill="#5b5b5b"',
        "door": 'fill="none" stroke="#5b5b5b" stroke-width="1"',
        "window": 'fill="none" stroke="#5b5b5b" stroke-width="1"',
        "furn": 'fill="none" stroke="#ccc"',
        "dim": 'fill="none" stroke="#999" stroke-width="0.5"',
    }
    out.append(
        Sent(
            "filled with a bay",
            "svg",
            writers.svg(
                strokes(plan, Habit(walls="filled", number="none", measures="comma")),
                fills,
                "",
                33,
                'viewBox="0 0 900 700"',
                groups_by="how",
            ),
            [plan],
        )
    )
    plan = corridor(SV, 84, ("swing", "leaf")).turned(9)
    out.append(
        Sent(
            "turned, widths alone",
            "svg",
            writers.svg(
                strokes(plan, Habit(number="below", area="{:.1f} m2")),
                short,
                sheet,
                28,
                'viewBox="0 0 1200 900"',
                tspans=True,
            ),
            [plan],
        )
    )
    plan = corridor(ES, 85, ("slide", "swing"))
    out.append(
        Sent(
            "sliding doors, full size in millimetres",
            "svg",
            writers.svg(
                [*strokes(plan, Habit()), *chained(plan)],
                words,
                "",
                1000,
                'width="30000mm" height="20000mm" viewBox="0 0 30000 20000"',
                at=(1000, 2000),
            ),
            [plan],
        )
    )
    plan = house(HOME, 86, slant=True)
    one = dict.fromkeys(fills, 'fill="none" stroke="black" stroke-width="1"')
    out.append(
        Sent(
            "one pen for all",
            "svg",
            writers.svg(
                strokes(plan, Habit(number="none", measures="m")),
                one,
                "",
                45,
                'viewBox="0 0 1000 800"',
                groups_by="how",
            ),
            [plan],
        )
    )
    return out


def pictures() -> list[Sent]:
    """Six of them."""
    out = []
    ink = {
        "wall": (30, 0.05),
        "furn": (120, 0.02),
        "name": (40, 0.02),
        "dim": (90, 0.015),
        "door": (70, 0.02),
        "window": (70, 0.02),
        "grid": (170, 0.01),
    }
    plan = corridor(ES, 91, ("swing", "double"))
    out.append(
        Sent(
            "scan turned three degrees, areas",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", area="{:.1f} m2", number="none")),
                pens=ink,
                turn=-3.1,
                dpi=140,
            ),
            [plan],
        )
    )
    plan = corridor(NL, 92)
    out.append(
        Sent(
            "blurred faces, yellowed paper",
            "picture",
            writers.picture(
                [*strokes(plan, Habit()), *chained(plan)],
                pens=ink | {"wall": (70, 0.03)},
                paper=205,
                blur=1.3,
                dpi=160,
                grain=7,
                kind="JPEG",
            ),
            [plan],
        )
    )
    plan = house(HOME, 93)
    out.append(
        Sent(
            "leaflet on a table, in shade",
            "picture",
            writers.picture(
                strokes(plan, Habit(walls="filled", number="none", measures="m")),
                pens=ink,
                camera=(-18, 20, -6),
                shadow=0.35,
                kind="JPEG",
                dpi=220,
                scale=80,
            ),
            [plan],
        )
    )
    plan = house(HOME, 94, slant=True)
    out.append(
        Sent(
            "slanted faces, grid",
            "picture",
            writers.picture(
                strokes(plan, Habit(number="none", measures="m", grid=True)),
                pens=ink | {"wall": (40, 0.025)},
                dpi=170,
            ),
            [plan],
        )
    )
    low, up = corridor(PT, 95, storey=0), corridor(PT, 95, storey=1)
    both = strokes(low, Habit(walls="filled", title="Piso 0", measures="m")) + strokes(
        up.moved(0, 19), Habit(walls="filled", title="Piso 1", measures="m")
    )
    out.append(
        Sent("two storeys in one picture", "picture", writers.picture(both, pens=ink, dpi=110), [low, up])
    )
    plan = corridor(PL, 96)
    body = writers.picture(
        strokes(plan, Habit(walls="filled", measures="comma", furniture=False)), pens=ink, dpi=130
    )
    page = io.BytesIO()
    Image.open(io.BytesIO(body)).save(page, "PDF", resolution=130)
    out.append(Sent("scanned page of a PDF", "picture", page.getvalue(), [plan]))
    return out


def files() -> list[Sent]:
    """Return all of them."""
    return [*dxfs(), *models(), *pdfs(), *svgs(), *pictures()]
