"""Withy Mill House: an invented home in a converted watermill, three floors, cellar and loft.

Half-metre stone, a listed wheel room, a boat store down the bank further than plain cable reaches.
"""

from demo.drawing import Drawing, at
from demo.suppliers import order
from heathrise.core.job import Job

NAME = "Withy Mill House"
CEILING = "ap-ceiling-wifi6-2x2"
CALLS = {"need": "calls"}
NONE = {"need": "none"}
# storey, elevation, ceiling, void, slab, kind
STOREYS = (
    ("Cellar", -2.6, 2.2, 0.1, "concrete-slab-150", "cellar"),
    ("Ground", 0.0, 2.7, 0.2, "beam-block", "floor"),
    ("First", 3.2, 2.6, 0.2, "timber-floor", "floor"),
    ("Second", 6.3, 2.4, 0.2, "timber-floor-foil", "floor"),
    ("Loft", 9.2, 1.9, 0.0, "timber-floor", "loft"),
)
# storey, label, box, body
SPACES = (
    ("Cellar", "Wheel pit", (0, 0, 6, 10), {"space_kind": "plant", "hottest_c": 18, **NONE}),
    ("Cellar", "Wine cellar", (6, 0, 12, 10), {"space_kind": "cellar", "need": "presence"}),
    ("Cellar", "Comms cupboard", (12, 0, 15, 4), {"space_kind": "comms", **NONE}),
    ("Cellar", "Boiler", (12, 4, 18, 10), {"space_kind": "plant", "hottest_c": 40, "need": "presence"}),
    ("Cellar", "Cellar stair", (15, 0, 18, 4), {"space_kind": "stair", **NONE}),
    ("Ground", "Wheel room", (0, 0, 6, 10), {"people": 4}),
    ("Ground", "Kitchen", (6, 0, 12, 6), {**CALLS, "people": 5, "slab_build_up": "concrete-slab-150"}),
    ("Ground", "Hall", (12, 0, 18, 4), {**CALLS, "space_kind": "stair", "people": 2}),
    ("Ground", "Dining room", (6, 6, 12, 10), {"people": 6}),
    ("Ground", "Living room", (12, 4, 18, 10), {**CALLS, "people": 5}),
    ("Ground", "Terrace", (0, 10, 18, 16), {"space_kind": "outdoor", "need": "outdoor", "people": 6}),
    ("Ground", "Boat store", (74, 22, 81, 27), {"building": "Boat store", "people": 1}),
    ("First", "Study", (0, 0, 6, 5), {**CALLS, "people": 1, "profile": "office-day"}),
    ("First", "Guest room", (0, 5, 6, 10), {"people": 2}),
    ("First", "Main bedroom", (6, 4, 12, 10), {"people": 2}),
    ("First", "Bathroom", (6, 0, 12, 4), NONE),
    ("First", "Landing", (12, 0, 18, 4), {**CALLS, "space_kind": "stair"}),
    ("First", "Snug", (12, 4, 18, 10), {"people": 3}),
    ("Second", "Mill floor", (0, 0, 9, 10), {**CALLS, "people": 4}),
    ("Second", "Child's room", (9, 4, 13.5, 10), {"people": 1}),
    ("Second", "Second child's room", (13.5, 4, 18, 10), {"people": 1}),
    ("Second", "Upper landing", (9, 0, 18, 4), {**CALLS, "space_kind": "stair"}),
    ("Loft", "Loft store", (0, 0, 18, 10), {"space_kind": "loft", "need": "presence", "hottest_c": 48}),
)
# storey, label, x, y, height, model, mount
POINTS = (
    ("Cellar", "Cellar", 9.0, 4.0, 2.1, CEILING, "ceiling"),
    ("Ground", "Kitchen", 9.0, 3.0, 2.6, "ap-ceiling-wifi6e-4x4", "ceiling"),
    ("Ground", "Living room", 15.0, 7.0, 2.6, CEILING, "ceiling"),
    ("Ground", "Wheel room", 3.0, 5.0, 2.6, CEILING, "ceiling"),
    ("Ground", "Terrace", 9.0, 10.4, 2.6, "ap-outdoor-wifi6-2x2", "outdoor"),
    ("Ground", "Boat store", 77.5, 24.5, 2.4, CEILING, "ceiling"),
    ("First", "Study", 3.0, 2.5, 2.5, CEILING, "ceiling"),
    ("First", "Bedroom", 9.0, 7.0, 2.5, CEILING, "ceiling"),
    ("First", "Landing", 15.0, 3.4, 2.5, CEILING, "ceiling"),
    ("Second", "Mill floor", 4.5, 5.0, 2.3, CEILING, "ceiling"),
    ("Second", "Upper landing", 13.5, 3.4, 2.3, CEILING, "ceiling"),
)
# storey, label, x, y, height, model
DEVICES = (
    ("Ground", "Door station", 14.0, -0.3, 1.4, "door-station"),
    ("Ground", "Television", 17.6, 7.0, 0.5, "outlet-data"),
    ("Ground", "Drive camera", 18.3, 2.0, 2.8, "camera-outdoor"),
    ("Ground", "Boat store camera", 74.2, 24.0, 2.4, "camera-outdoor"),
    ("First", "Study desk 1", 0.6, 1.5, 0.4, "outlet-data"),
    ("First", "Study desk 2", 0.6, 3.0, 0.4, "outlet-data"),
    ("Cellar", "Boiler controller", 17.4, 7.0, 1.4, "outlet-data"),
    ("Second", "Mill floor outlet", 0.6, 5.0, 0.4, "outlet-data"),
    ("Loft", "Loft outlet", 9.0, 5.0, 0.4, "outlet-data"),
)
# As the planner gives them out: see demo/give_out.py.
PORTS = {
    "R-01": "SW2/1",
    "R-02": "SW1/2",
    "R-03": "SW1/3",
    "R-04": "SW1/4",
    "R-05": "SW1/9",
    "R-06": "SW1/5",
    "R-07": "SW1/6",
    "R-08": "SW1/7",
    "R-09": "SW2/2",
    "R-10": "SW1/1",
    "R-11": "SW1/8",
    "R-12": "SW1/12",
    "R-13": "SW1/13",
    "R-14": "SW1/14",
    "R-15": "SW1/15",
    "R-16": "SW1/16",
    "R-17": "SW2/5",
    "R-18": "SW2/6",
    "R-19": "SW2/7",
    "R-20": "SW2/8",
}


def withy_mill() -> Job:
    """Return the demo job."""
    d = Drawing(NAME)
    _facts(d)
    ids = {
        label: d.add(
            "storey",
            label,
            elevation_m=up,
            ceiling_m=ceiling,
            void_m=void,
            slab_build_up=slab,
            storey_kind=kind,
        )
        for label, up, ceiling, void, slab, kind in STOREYS
    }
    for label, storey in ids.items():
        _walls(d, storey, label)
    for storey, label, box, body in SPACES:
        d.space(ids[storey], label, box, **body)
    _surroundings(d, ids)
    _kit(d, ids)
    return d.job(PORTS)


def _facts(d: Drawing) -> None:
    d.add(
        "site",
        "Site",
        site_kind="home",
        address="Withy Lane 1, Example Weir",
        built_year=1790,
        roof_build_up="tiled-roof",
        opens_h=7,
        closes_h=23,
        open_days=["mon", "tue", "wed", "thu", "fri", "sat", "sun"],
    )
    d.add(
        "brief",
        "Brief",
        internet={
            "service": "vdsl",
            "down_mbps": 60,
            "up_mbps": 15,
            "addressing": "pppoe",
            "subnet": "203.0.113.0/30",
        },
        devices=[
            {"what": "Phones and tablets", "count": 12, "device": "phone"},
            {"what": "Laptops", "count": 6, "device": "laptop"},
            {"what": "Television and consoles", "count": 4, "moves": False, "device": "television"},
            {"what": "Cameras", "count": 2, "moves": False, "purpose": "cameras", "device": "camera"},
            {
                "what": "Door station",
                "count": 1,
                "moves": False,
                "purpose": "things",
                "device": "door-station",
            },
            {
                "what": "Heat pump and meters",
                "count": 3,
                "moves": False,
                "purpose": "things",
                "device": "heat-pump",
            },
            {
                "what": "Speakers",
                "count": 8,
                "moves": False,
                "purpose": "things",
                "device": "speaker",
                "way": "air",
                "reason": "stone walls are not to be chased for them",
            },
        ],
        people_peak=8,
        guests_peak=10,
        budget=9000,
        answers=[
            {
                "question": "walls",
                "text": "Half a metre of stone outside, brick inside, boards on beams.",
                "on": "2026-10-02",
            },
            {
                "question": "drilling",
                "text": "The wheel room is listed; nothing into its walls.",
                "on": "2026-10-02",
            },
            {"question": "work-at-home", "text": "One of us, all day, in the study.", "on": "2026-10-05"},
            {
                "question": "outside",
                "text": "Terrace, drive, and the boat store by the river.",
                "on": "2026-10-05",
            },
        ],
        drops=[
            {"drop": "entrance", "wanted": True},
            {"drop": "television", "wanted": True},
            {"drop": "plant", "wanted": True},
            {"drop": "loft", "wanted": True},
            {"drop": "shed", "wanted": True, "note": "the boat store"},
            {"drop": "gate", "wanted": False},
            {"drop": "alarm", "wanted": False, "note": "none fitted"},
        ],
        kept=[{"what": "Router of the provider", "count": 1, "serves": False}],
    )
    d.add("practice", "House practice", cables_per_point=1, beyond_reach="fibre", updates="automatic")
    order(d, "WM-26-3", hardships=["listed"], crew=2, begins="2027-03-08")


def _walls(d: Drawing, s: str, label: str) -> None:
    d.wall(
        s, "stone-500", (0, 0), (18, 0), (18, 10), (0, 10), (0, 0), label=f"{label} outer", thickness_m=0.5
    )
    inner: dict[str, tuple[tuple[str, tuple[float, float], tuple[float, float]], ...]] = {
        "Cellar": (
            ("stone-500", (6, 0), (6, 10)),
            ("brick-215", (12, 0), (12, 10)),
            ("brick-102", (12, 4), (18, 4)),
            ("brick-102", (15, 0), (15, 4)),
        ),
        "Ground": (
            ("stone-500", (6, 0), (6, 10)),
            ("brick-215", (12, 0), (12, 10)),
            ("brick-102", (6, 6), (12, 6)),
            ("brick-102", (12, 4), (18, 4)),
        ),
        "First": (
            ("stone-300", (6, 0), (6, 10)),
            ("brick-102", (12, 0), (12, 10)),
            ("lath-plaster", (0, 5), (6, 5)),
            ("lath-plaster", (6, 4), (18, 4)),
        ),
        "Second": (
            ("lath-plaster", (9, 0), (9, 10)),
            ("lath-plaster", (13.5, 4), (13.5, 10)),
            ("lath-plaster", (9, 4), (18, 4)),
        ),
        "Loft": (),
    }
    thick = {"stone-500": 0.5, "stone-300": 0.3, "brick-215": 0.22, "brick-102": 0.1, "lath-plaster": 0.12}
    for number, (build_up, a, b) in enumerate(inner[label], start=1):
        made = d.wall(s, build_up, a, b, label=f"{label} wall {number}", thickness_m=thick[build_up])
        if label != "Loft":
            solid = build_up.startswith(("stone", "brick-215"))
            d.add(
                "opening",
                f"{label} door {number}",
                wall_id=made[0],
                at_m=1.2,
                width_m=0.85,
                build_up="door-solid" if solid else "door-hollow",
            )
    outer = d.id_of("wall", f"{label} outer 1")
    if label in ("Ground", "First", "Second"):
        for number, x in enumerate((2.0, 8.0, 15.4), start=1):
            d.add(
                "opening",
                f"{label} window {number}",
                wall_id=outer,
                opening_kind="window",
                at_m=x,
                width_m=1.1,
                sill_m=0.9,
                height_m=1.2,
                build_up="glazing-single" if label == "Ground" else "glazing-coated",
            )
    if label == "Ground":
        d.add("opening", "Front door", wall_id=outer, at_m=13.0, width_m=1.0, build_up="door-solid")
        terrace = d.id_of("wall", "Ground outer 3")
        d.add(
            "opening",
            "Terrace doors",
            wall_id=terrace,
            at_m=7.5,
            width_m=1.8,
            leaf="double",
            build_up="glazing-coated",
        )
        d.wall(
            s,
            "timber-frame",
            (74, 22),
            (81, 22),
            (81, 27),
            (74, 27),
            (74, 22),
            label="Boat store wall",
            thickness_m=0.15,
        )
        d.add(
            "opening",
            "Boat store door",
            wall_id=d.id_of("wall", "Boat store wall 4"),
            at_m=1.5,
            width_m=2.0,
            leaf="double",
            build_up="door-solid",
        )


def _surroundings(d: Drawing, ids: dict[str, str]) -> None:
    ground = ids["Ground"]

    def corners(x0: float, y0: float, x1: float, y1: float) -> list[object]:
        return [at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)]

    d.add(
        "no-go",
        "Listed wheel wall",
        storey_id=ground,
        outline=corners(0, 0, 1.2, 10),
        reason="listed",
        note="nothing into the wheel's wall",
    )
    d.add("no-go", "Boiler flue", storey_id=ids["Cellar"], outline=corners(16.5, 8.5, 18, 10), reason="heat")
    d.add(
        "planting",
        "Yew hedge",
        storey_id=ground,
        outline=corners(30, 8, 31, 24),
        height_m=2.2,
        build_up="hedge",
    )
    d.add(
        "planting",
        "Willow",
        storey_id=ground,
        outline=corners(52, 20, 58, 26),
        height_m=9,
        build_up="tree-crown",
    )
    d.add(
        "shaft",
        "Sack hoist",
        shaft_kind="void",
        outline=corners(7, 8, 8.2, 9.2),
        from_storey_id=ground,
        to_storey_id=ids["Second"],
    )
    d.add(
        "fixture",
        "Consumer unit",
        fixture_kind="electrical-panel",
        storey_id=ids["Cellar"],
        at=at(17.6, 4.4),
        height_m=1.5,
    )
    d.add("fixture", "Comms socket", fixture_kind="power-outlet", storey_id=ids["Cellar"], at=at(12.4, 1.0))
    d.add(
        "line",
        "Mains to the kitchen",
        line_kind="mains",
        storey_id=ground,
        path=[at(17.6, 4.4), at(12, 4.4), at(9, 4.4)],
    )
    d.add(
        "pathway",
        "Duct to the river",
        pathway_kind="duct",
        storey_id=ground,
        path=[at(18, 8), at(40, 18), at(74, 24)],
        height_m=0,
    )


def _kit(d: Drawing, ids: dict[str, str]) -> None:
    rack = d.add(
        "rack",
        "TR1",
        storey_id=ids["Cellar"],
        at=at(13.0, 0.8),
        height_m=1.4,
        model="rack-12u",
        backing_board=True,
        keeps_min=30,
    )
    d.add("service-entry", "Service entry", storey_id=ids["Ground"], at=at(12.6, 0.1))
    d.add("riser", "Chimney riser", at=at(12.4, 3.4), from_storey_id=ids["Cellar"], to_storey_id=ids["Loft"])
    d.in_rack("GW1", "gateway-1g", rack)
    d.in_rack("PP1", "panel-24", rack)
    d.in_rack("SW1", "switch-16-poe-2g5", rack)
    d.in_rack("SW2", "switch-8-poe", rack)
    d.in_rack("UPS1", "ups-600", rack)
    number = 0
    for storey, label, x, y, height, model, mount in POINTS:
        point = d.add(
            "access-point",
            label,
            storey_id=ids[storey],
            at=at(x, y),
            height_m=height,
            model=model,
            mount=mount,
        )
        number += 1
        outdoor = mount == "outdoor" or label == "Boat store"
        d.run(f"R-{number:02d}", rack, point, "cat6a-outdoor-lszh" if outdoor else "cat6a-indoor")
    for storey, label, x, y, height, model in DEVICES:
        thing = d.thing(label, model, ids[storey], at(x, y), height)
        number += 1
        outdoor = model in ("camera-outdoor", "door-station")
        d.run(f"R-{number:02d}", rack, thing, "cat6-outdoor-lszh" if outdoor else "cat6-indoor")
    main = d.add("network", "Home", purpose="main", vlan=20, subnet="10.30.20.0/24")
    guest = d.add("network", "Guests", purpose="guest", vlan=30, subnet="10.30.30.0/24", isolated=True)
    things = d.add("network", "Things", purpose="things", vlan=40, subnet="10.30.40.0/24")
    d.add("network", "Cameras", purpose="cameras", vlan=50, subnet="10.30.50.0/24", internet=False)
    d.add("ssid", "withy-mill", network_id=main, security="transition")
    d.add(
        "ssid",
        "withy-mill-guest",
        network_id=guest,
        security="transition",
        isolation=True,
        fast_roaming=False,
    )
    d.add("ssid", "withy-mill-things", network_id=things, bands=["2.4"], security="wpa2", fast_roaming=False)
