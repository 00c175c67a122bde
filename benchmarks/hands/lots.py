"""Drawings by lot: a hand's habits drawn at random, so that nobody has seen a file before it is scored."""

import random

from benchmarks.hands import writers
from benchmarks.hands.models import Author, ifc
from benchmarks.hands.strokes import Habit, Stroke, strokes
from benchmarks.hands.truth import Plan, corridor, house
from benchmarks.hands.tuned import Sent
from benchmarks.hands.unseen import chained, columned

_NAMES = {
    "en": ("Corridor", "Office", "Meeting", "Store", "Reception", "Kitchen", "Laboratory", "Classroom"),
    "de": ("Flur", "Büro", "Besprechung", "Lager", "Empfang", "Küche", "Labor", "Klassenzimmer"),
    "fr": ("Couloir", "Bureau", "Réunion", "Réserve", "Accueil", "Cuisine", "Laboratoire", "Classe"),
    "es": ("Pasillo", "Oficina", "Reunión", "Almacén", "Recepción", "Cocina", "Laboratorio", "Clase"),
    "it": ("Corridoio", "Ufficio", "Riunioni", "Deposito", "Ingresso", "Cucina", "Laboratorio", "Aula"),
    "nl": ("Gang", "Kantoor", "Vergaderen", "Berging", "Receptie", "Keuken", "Laboratorium", "Lokaal"),
    "sv": ("Korridor", "Kontor", "Mötesrum", "Förråd", "Reception", "Kök", "Laboratorium", "Klassrum"),
    "pt": ("Corredor", "Gabinete", "Reuniões", "Arquivo", "Entrada", "Cozinha", "Laboratório", "Sala"),
}
_LAYERS = {
    "en": ("A-WALL", "A-DOOR", "A-GLAZ", "A-NAME", "A-DIMS", "A-FURN", "A-GRID", "A-FRAME"),
    "de": ("WAND", "TUER", "FENSTER", "RAUMTEXT", "BEMASSUNG", "MOEBEL", "ACHSEN", "RAHMEN"),
    "fr": ("MURS", "PORTES", "FENETRES", "TEXTES", "COTATION", "MOBILIER", "AXES", "CADRE"),
    "es": ("MUROS", "PUERTAS", "VENTANAS", "TEXTOS", "COTAS", "MUEBLES", "EJES", "MARCO"),
    "it": ("MURI", "PORTE", "FINESTRE", "TESTI", "QUOTE", "ARREDO", "ASSI", "CARTIGLIO"),
    "nl": ("MUREN", "DEUREN", "RAMEN", "TEKST", "MAATVOERING", "MEUBELS", "STRAMIEN", "KADER"),
    "sv": ("VÄGG", "DÖRR", "FÖNSTER", "TEXT", "MÅTT", "INREDNING", "MODULLINJER", "RAM"),
    "pt": ("PAREDES", "PORTAS", "JANELAS", "TEXTOS", "COTAS", "MOBILIARIO", "EIXOS", "FOLHA"),
}
_PENS = ("wall", "door", "window", "name", "dim", "furn", "grid", "frame")
_FIRST = {
    "en": "First floor",
    "de": "1. Obergeschoss",
    "fr": "Étage 1",
    "es": "Planta primera",
    "it": "Piano primo",
    "nl": "Eerste verdieping",
    "sv": "Plan 1",
    "pt": "Piso 1",
}
_GROUND = {
    "en": "Ground floor",
    "de": "Erdgeschoss",
    "fr": "Rez-de-chaussée",
    "es": "Planta baja",
    "it": "Piano terra",
    "nl": "Begane grond",
    "sv": "Plan 0",
    "pt": "Piso 0",
}
_SCALE = {
    "en": "Scale",
    "de": "Maßstab",
    "fr": "Échelle",
    "es": "Escala",
    "it": "Scala",
    "nl": "Schaal",
    "sv": "Skala",
    "pt": "Escala",
}


def _plan(rng: random.Random, tongue: str, seed: int, storey: int = 0) -> Plan:
    names = _NAMES[tongue][: rng.choice((6, 7, 8))]
    styles = rng.choice(
        (("swing",), ("swing", "double"), ("swing", "half"), ("arc", "swing"), ("swing", "slide"))
    )
    outer, inner = rng.choice((0.24, 0.3, 0.36, 0.42)), rng.choice((0.1, 0.12, 0.15))
    if rng.random() < 0.25 and storey == 0:
        count = len(names) // 2 * 2
        return house(names[:count], seed, outer, inner, bay=rng.random() < 0.5, slant=rng.random() < 0.4)
    return corridor(names, seed, styles, outer, inner, storey)


def _habit(rng: random.Random, measured: bool) -> Habit:
    return Habit(
        windows=rng.choice(("three", "two", "frame")),
        furniture=rng.random() < 0.8,
        measures=rng.choice(("m", "mm", "comma")) if measured else "",
        grid=rng.random() < 0.25,
        frame=rng.random() < 0.4,
        stairs=rng.random() < 0.2,
        area=rng.choice(("", "", "{:.2f} m²", "{:.1f} m2")),
        number=rng.choice(("before", "above", "below", "one")),
    )


def dxf(seed: int) -> Sent:
    """One CAD drawing."""
    rng = random.Random(seed)
    tongue = rng.choice(list(_LAYERS))
    plan = _plan(rng, tongue, seed)
    habit = _habit(rng, rng.random() < 0.7)
    habit.walls = rng.choice(("faces", "faces", "hatched"))
    named = rng.random() < 0.7
    layers = dict(zip(_PENS, _LAYERS[tongue] if named else [str(n) for n in range(1, 9)], strict=True))
    unit, code = rng.choice(
        ((1000.0, 4), (1000.0, None), (1.0, 6), (100.0, 5), (100.0, None), (1 / 0.0254, 1))
    )
    if rng.random() < 0.25:
        plan = plan.turned(rng.uniform(-40, 40))
    plans, drawn = [plan], strokes(plan, habit, seed)
    if rng.random() < 0.3 and not plan.bends:
        habit.frame = habit.grid = False
        low, up = corridor(_NAMES[tongue], seed, storey=0), corridor(_NAMES[tongue], seed, storey=1)
        plans = [low, up]
        habit.title = _GROUND[tongue]
        drawn = strokes(low, habit, seed)
        habit.title = _FIRST[tongue]
        drawn += strokes(up.moved(*rng.choice(((0.0, 24.0), (40.0, 0.0)))), habit, seed)
    body = writers.dxf(drawn, layers, unit, code, polylines=rng.random() < 0.4, measured=rng.random() < 0.6)
    return Sent(
        f"lot {seed}: {tongue}, {habit.walls}, {'named' if named else 'numbered'} layers, {len(plans)} storeys",
        "dxf",
        body,
        plans,
    )


def model(seed: int) -> Sent:
    """One building model."""
    rng = random.Random(seed)
    tongue = rng.choice(list(_NAMES))
    plans = [_plan(rng, tongue, seed)]
    if not plans[0].bends and rng.random() < 0.5:
        plans = [corridor(_NAMES[tongue], seed, storey=n) for n in range(rng.choice((2, 3)))]
    author = Author(
        unit=rng.choice((1000.0, 100.0, 1.0, 1 / 0.3048)),
        face=rng.choice(("centre", "left", "right", "core")),
        body=rng.random() < 0.7,
        storeys=rng.random() < 0.75,
        loose=rng.random() < 0.3,
        long_names=rng.random() < 0.6,
        split=rng.random() < 0.2,
    )
    return Sent(
        f"lot {seed}: {tongue}, {author.face}, {len(plans)} storeys", "ifc", ifc(plans, author), plans
    )


def pdf(seed: int) -> Sent:
    """One print."""
    rng = random.Random(seed)
    tongue = rng.choice(list(_NAMES))
    scale = rng.choice((50, 75, 100, 125))
    said = rng.random() < 0.6
    plan = _plan(rng, tongue, seed)
    habit = _habit(rng, not said)
    habit.walls = rng.choice(("faces", "faces", "filled", "hatched"))
    habit.note = f"{_SCALE[tongue]} 1:{scale}" if said else ""
    habit.frame = habit.frame or said
    widths = (
        [0.7, 0.25, 0.25, 0.2, 0.18, 0.13, 0.15, 0.5]
        if rng.random() < 0.7
        else [0.4, 0.25, 0.25, 0.25, 0.25, 0.25, 0.25, 0.4]
    )
    pens = {pen: f"{wide} w 0 0 0 RG 0 0 0 rg" for pen, wide in zip(_PENS, widths, strict=True)}
    if habit.walls == "filled":
        pens["wall"] = f"{rng.choice((0, 0.2, 0.5))} g"
    pages, plans = [plan], [plan]
    if rng.random() < 0.35 and not plan.bends:
        pages = plans = [corridor(_NAMES[tongue], seed, storey=n) for n in range(2)]
    drawn = []
    for number, one in enumerate(pages):
        habit.title = (_GROUND, _FIRST)[number][tongue] if len(pages) > 1 else ""
        extra: list[Stroke] = chained(one) if rng.random() < 0.3 and not said else []
        drawn.append([*strokes(one, habit, seed), *extra])
    body = writers.pdf(
        drawn, pens, scale, (2384, 1684), (420, 420), rng.choice((0, 0, 90)), True, rng.random() < 0.7
    )
    return Sent(
        f"lot {seed}: {tongue}, {habit.walls}, 1:{scale}{' said' if said else ''}, {len(pages)} pages",
        "pdf",
        body,
        plans,
    )


def svg(seed: int) -> Sent:
    """One drawing for the web."""
    rng = random.Random(seed)
    tongue = rng.choice(list(_NAMES))
    plan = _plan(rng, tongue, seed)
    habit = _habit(rng, True)
    habit.walls = rng.choice(("faces", "filled"))
    k = rng.choice((18, 30, 44))
    by_class = rng.random() < 0.5
    words = dict(zip(_PENS, [w.lower() for w in _LAYERS[tongue]], strict=True))
    widths = dict(zip(_PENS, (3, 1, 1, 1, 0.5, 0.7, 0.4, 1.4), strict=True))
    how = {pen: f'fill="none" stroke="#222" stroke-width="{wide}"' for pen, wide in widths.items()} | {
        "name": ""
    }
    if habit.walls == "filled":
        how["wall"] = 'fill="#444"'
    drawn = [*strokes(plan, habit, seed), *(columned(plan) if rng.random() < 0.3 and not plan.bends else [])]
    body = writers.svg(
        drawn,
        words if by_class else how,
        "",
        k,
        'viewBox="0 0 2000 1500"',
        groups_by="class" if by_class else "how",
        tspans=rng.random() < 0.5,
    )
    return Sent(
        f"lot {seed}: {tongue}, {habit.walls}, {'classes' if by_class else 'pens'}", "svg", body, [plan]
    )


def picture(seed: int, finer: float = 1.0) -> Sent:
    """One picture, small as a screen or a messenger sends it; `finer` times as many dots as a camera takes."""
    rng = random.Random(seed)
    tongue = rng.choice(("en", "nl", "it", "es"))
    plan = _plan(rng, tongue, seed)
    habit = _habit(rng, True)
    habit.frame = habit.grid = habit.stairs = False
    habit.walls = rng.choice(("filled", "filled", "faces"))
    dpi = rng.choice((120, 150, 180))
    ink = {
        "wall": (rng.choice((20, 60)), 0.03),
        "furn": (120, 0.02),
        "name": (40, 0.02),
        "dim": (90, 0.015),
        "door": (70, 0.02),
        "window": (70, 0.02),
    }
    camera = (rng.uniform(-24, 24), rng.uniform(-20, 20), rng.uniform(-5, 5)) if rng.random() < 0.35 else None
    body = writers.picture(
        strokes(plan, habit, seed),
        dpi * finer,
        100,
        ink,
        paper=rng.choice((255, 235, 200)),
        grain=rng.choice((3, 6, 9)),
        blur=rng.choice((0.4, 0.8, 1.1)),
        shadow=rng.choice((0.0, 0.0, 0.4)),
        turn=0.0 if camera else rng.choice((0.0, 1.1, -2.4)),
        camera=camera,
        kind=rng.choice(("PNG", "JPEG")),
        seed=seed,
    )
    return Sent(
        f"lot {seed}: {tongue}, {habit.walls}{', photographed' if camera else ''}", "picture", body, [plan]
    )


def photographs(first: int = 9700, count: int = 10) -> list[Sent]:
    """Return so many pictures as large as a camera or an office scanner makes them."""
    return [picture(seed, 2.0) for seed in range(first, first + count)]


def files(first: int = 7000, count: int = 10) -> list[Sent]:
    """Return so many of each kind."""
    made = (dxf, model, pdf, svg, picture)
    return [make(seed) for make in made for seed in range(first, first + count)]
