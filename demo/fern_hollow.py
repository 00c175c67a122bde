"""Fern Hollow Veterinary Clinic: an invented clinic on one storey.

A lead-lined imaging room, metal-clad kennels, reception with payment terminals, cameras, and
staff on call who walk while they talk.
"""

from demo.drawing import Drawing, at
from demo.suppliers import order
from heathrise.core.job import Job

NAME = "Fern Hollow Veterinary Clinic"
CEILING = "ap-ceiling-wifi6-2x2"
CALLS = {"need": "calls"}
NONE = {"need": "none"}
SPACES = (
    ("Reception", (0, 0, 9, 7), {"need": "scanning", "people": 14}),
    ("Consulting 1", (9, 0, 13, 5), {**CALLS, "people": 3}),
    ("Consulting 2", (13, 0, 17, 5), {**CALLS, "people": 3}),
    ("Consulting 3", (17, 0, 21, 5), {**CALLS, "people": 3}),
    ("Imaging", (21, 0, 26, 5), {"need": "scanning", "people": 2, "no_go": ""}),
    ("Corridor", (9, 5, 26, 7), {**CALLS, "space_kind": "corridor", "people": 4}),
    ("Office", (0, 7, 5, 13), {"people": 3}),
    ("Comms and store", (5, 7, 8, 13), {"space_kind": "comms", **NONE}),
    ("Preparation", (8, 7, 14, 13), {**CALLS, "people": 5}),
    ("Theatre", (14, 7, 19, 13), {**CALLS, "people": 4}),
    ("Recovery", (19, 7, 26, 13), {**CALLS, "people": 2}),
    ("Kennels", (26, 0, 36, 8), {"need": "scanning", "people": 2}),
    ("Cattery", (26, 8, 36, 13), {"need": "presence", "people": 1}),
    ("Yard", (26, 13, 36, 22), {"space_kind": "outdoor", "need": "outdoor", "people": 3}),
    ("Car park", (0, -12, 26, -1), {"space_kind": "outdoor", "need": "none"}),
)
POINTS = (
    ("Reception", 4.5, 3.5, CEILING, "ceiling"),
    ("Consulting", 15.0, 2.5, CEILING, "ceiling"),
    ("Corridor", 19.5, 6.0, CEILING, "ceiling"),
    ("Imaging", 23.5, 2.5, CEILING, "ceiling"),
    ("Preparation", 11.0, 10.0, CEILING, "ceiling"),
    ("Recovery", 22.5, 10.0, CEILING, "ceiling"),
    ("Kennels", 31.0, 4.0, CEILING, "ceiling"),
    ("Yard", 31.0, 13.3, "ap-outdoor-wifi6-2x2", "outdoor"),
)
DEVICES = (
    ("Front desk 1", 1.0, 2.0, 0.8, "outlet-data"),
    ("Front desk 2", 2.5, 2.0, 0.8, "outlet-data"),
    ("Payment terminal", 3.5, 2.0, 0.8, "outlet-data"),
    ("Reception phone", 1.8, 2.0, 0.8, "desk-phone"),
    ("X-ray console", 25.6, 4.0, 1.0, "outlet-data"),
    ("Theatre display", 16.5, 12.7, 1.8, "outlet-data"),
    ("Office outlet 1", 0.4, 9.0, 0.4, "outlet-data"),
    ("Office outlet 2", 0.4, 11.0, 0.4, "outlet-data"),
    ("Laboratory analyser", 8.4, 12.6, 1.0, "outlet-data"),
    ("Kennel camera 1", 27.0, 1.0, 2.5, "camera-dome"),
    ("Kennel camera 2", 35.0, 7.0, 2.5, "camera-dome"),
    ("Recovery camera", 25.4, 12.4, 2.5, "camera-dome"),
    ("Car park camera", 13.0, -0.4, 3.0, "camera-outdoor"),
    ("Door station", 3.0, -0.3, 1.4, "door-station"),
)
DOORS = (
    ("Outer 1", 2.6, 1.8, "glazing-clear", "door"),
    ("Outer 1", 10.2, 1.6, "glazing-coated", "window"),
    ("Outer 1", 14.2, 1.6, "glazing-coated", "window"),
    ("Corridor north 1", 1.0, 1.0, "door-solid", "door"),
    ("Corridor north 1", 5.0, 1.0, "door-solid", "door"),
    ("Corridor north 1", 9.0, 1.0, "door-solid", "door"),
    ("Lead north", 2.0, 1.1, "door-lead", "door"),
    ("Reception east", 5.4, 1.2, "door-hollow", "door"),
    ("Corridor south", 2.0, 0.9, "door-hollow", "door"),
    ("Corridor south", 10.0, 1.4, "door-solid", "door"),
    ("Corridor south", 16.0, 1.4, "door-solid", "door"),
    ("Corridor south", 22.0, 1.4, "door-solid", "door"),
    ("Kennel west", 5.4, 1.2, "door-steel-fire", "door"),
    ("Cattery wall", 4.0, 0.9, "door-hollow", "door"),
    ("Outer 3", 4.0, 1.0, "door-steel-fire", "door"),
)
# As the planner gives them out: see demo/give_out.py.
PORTS = {
    "C-01": "SW1/23",
    "R-01": "SW1/1",
    "R-02": "SW1/2",
    "R-03": "SW1/3",
    "R-04": "SW1/4",
    "R-05": "SW1/5",
    "R-06": "SW1/6",
    "R-07": "SW1/7",
    "R-08": "SW1/8",
    "R-09": "SW1/9",
    "R-10": "SW1/10",
    "R-11": "SW1/11",
    "R-12": "SW1/12",
    "R-13": "SW1/13",
    "R-14": "SW1/14",
    "R-15": "SW1/15",
    "R-16": "SW1/16",
    "R-17": "SW1/17",
    "R-18": "SW1/18",
    "R-19": "SW1/19",
    "R-20": "SW1/20",
    "R-21": "SW1/21",
    "R-22": "SW1/22",
}


def fern_hollow() -> Job:
    """Return the demo job."""
    d = Drawing(NAME)
    _facts(d)
    s = d.add("storey", "Ground", elevation_m=0, ceiling_m=2.7, void_m=0.5)
    _walls(d, s)
    for label, box, body in SPACES:
        d.space(s, label, box, **body)
    for number, (wall, along, width, build_up, kind) in enumerate(DOORS, start=1):
        window = kind == "window"
        d.add(
            "opening",
            f"{'Window' if window else 'Door'} {number}",
            wall_id=d.id_of("wall", wall),
            opening_kind=kind,
            at_m=along,
            width_m=width,
            sill_m=0.9 if window else 0,
            height_m=1.2 if window else 2.1,
            leaf="double" if width > 1.3 and not window else "single",
            fire_minutes=30 if build_up == "door-steel-fire" else 0,
            build_up=build_up,
        )
    _surroundings(d, s)
    _kit(d, s)
    return d.job(PORTS)


def _facts(d: Drawing) -> None:
    d.add(
        "site",
        "Site",
        site_kind="clinic",
        address="Fern Hollow 12, Example Vale",
        built_year=2004,
        roof_build_up="metal-roof",
        opens_h=7,
        closes_h=20,
    )
    d.add(
        "brief",
        "Brief",
        internet={
            "service": "fibre",
            "down_mbps": 300,
            "up_mbps": 100,
            "addressing": "static",
            "subnet": "198.51.100.8/29",
        },
        devices=[
            {"what": "Staff phones", "count": 16, "device": "phone"},
            {"what": "Consulting tablets", "count": 8, "device": "tablet"},
            {"what": "Handheld scanners", "count": 4, "device": "scanner", "purpose": "things"},
            {"what": "Desktops", "count": 4, "moves": False, "device": "desktop"},
            {"what": "Payment terminal", "count": 1, "moves": False, "device": "till", "purpose": "things"},
            {"what": "X-ray and analyser", "count": 2, "moves": False, "device": "medical"},
            {"what": "Cameras", "count": 4, "moves": False, "device": "camera", "purpose": "cameras"},
            {
                "what": "Door station",
                "count": 1,
                "moves": False,
                "device": "door-station",
                "purpose": "things",
            },
            {
                "what": "Reception phone",
                "count": 1,
                "moves": False,
                "device": "desk-phone",
                "purpose": "voice",
            },
        ],
        people_peak=34,
        guests_peak=12,
        budget=8500,
        answers=[
            {
                "question": "imaging",
                "text": "The room with the X-ray; the radiation officer gives consent.",
                "on": "2026-10-12",
            },
            {
                "question": "infection",
                "text": "Theatre and recovery before seven or after eight in the evening.",
                "on": "2026-10-12",
            },
            {
                "question": "payment",
                "text": "One terminal at reception, to be kept apart.",
                "on": "2026-10-12",
            },
            {
                "question": "hours",
                "text": "Seven to twenty on weekdays, on call at night.",
                "on": "2026-10-13",
            },
        ],
        drops=[
            {"drop": "entrance", "wanted": True},
            {"drop": "till", "wanted": True},
            {"drop": "kennels", "wanted": True},
            {"drop": "eaves", "wanted": True},
            {"drop": "loft", "wanted": False},
            {"drop": "lift", "wanted": False, "note": "one storey"},
        ],
        kept=[{"what": "Desk phones", "count": 1, "serves": True}],
    )
    d.add("practice", "House practice", cables_per_point=1)
    order(d, "FH-26-2", hardships=["after-hours"], crew=2, begins="2027-01-18")


def _walls(d: Drawing, s: str) -> None:
    d.wall(s, "cavity", (0, 0), (26, 0), label="Outer 1", thickness_m=0.3)
    d.wall(s, "cavity", (0, 13), (0, 0), label="Outer 2", thickness_m=0.3)
    d.wall(s, "metal-clad", (36, 13), (26, 13), label="Outer 3", thickness_m=0.15)
    d.wall(s, "cavity", (26, 13), (0, 13), label="Outer 4", thickness_m=0.3)
    d.wall(s, "metal-clad", (26, 0), (36, 0), (36, 13), label="Kennel outer", thickness_m=0.15)
    d.wall(s, "metal-clad", (26, 0), (26, 13), label="Kennel west", thickness_m=0.15)
    d.wall(s, "block-light-100", (26, 8), (36, 8), label="Cattery wall", thickness_m=0.1)
    d.wall(s, "block-light-100", (9, 0), (9, 7), label="Reception east", thickness_m=0.1)
    d.wall(s, "stud-plasterboard", (9, 5), (21, 5), label="Corridor north 1", thickness_m=0.1)
    d.wall(s, "lead-lined", (21, 5), (26, 5), label="Lead north", thickness_m=0.15)
    d.wall(s, "lead-lined", (21, 0), (21, 5), label="Lead west", thickness_m=0.15)
    d.wall(s, "stud-plasterboard", (13, 0), (13, 5), label="Consulting wall 1", thickness_m=0.1)
    d.wall(s, "stud-plasterboard", (17, 0), (17, 5), label="Consulting wall 2", thickness_m=0.1)
    d.wall(s, "block-light-100", (0, 7), (26, 7), label="Corridor south", thickness_m=0.1)
    for x, label in ((5, "Office wall"), (8, "Store wall"), (14, "Theatre west"), (19, "Theatre east")):
        d.wall(s, "block-light-100", (x, 7), (x, 13), label=label, thickness_m=0.1)


def _surroundings(d: Drawing, s: str) -> None:
    def corners(x0: float, y0: float, x1: float, y1: float) -> list[object]:
        return [at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)]

    d.add(
        "no-go",
        "Lead lining",
        storey_id=s,
        outline=corners(20.8, 0, 21.2, 5),
        reason="lead",
        note="the radiation officer's consent first",
    )
    d.add("no-go", "Wash-down", storey_id=s, outline=corners(26.2, 6, 29, 7.8), reason="damp")
    d.add("no-go", "Panel's working space", storey_id=s, outline=corners(5, 12, 6.2, 13), reason="electrical")
    d.add(
        "fixture",
        "Distribution board",
        fixture_kind="electrical-panel",
        storey_id=s,
        at=at(5.3, 12.8),
        height_m=1.5,
    )
    d.add("fixture", "Theatre light", fixture_kind="luminaire", storey_id=s, at=at(16.5, 10), height_m=2.2)
    d.add("fixture", "Comms socket", fixture_kind="power-outlet", storey_id=s, at=at(7.6, 7.6))
    d.add(
        "line",
        "Mains along the corridor",
        line_kind="mains",
        storey_id=s,
        path=[at(5.3, 12.8), at(5.3, 6.8), at(25.5, 6.8)],
    )
    d.add(
        "pathway",
        "Cable tray",
        pathway_kind="tray",
        storey_id=s,
        path=[at(7, 8), at(7, 6.4), at(25.8, 6.4)],
        height_m=2.8,
    )
    d.add(
        "planting",
        "Hornbeam hedge",
        storey_id=s,
        outline=corners(0, -12.8, 26, -12),
        height_m=1.8,
        build_up="hedge",
    )


def _kit(d: Drawing, s: str) -> None:
    rack = d.add(
        "rack",
        "TR1",
        storey_id=s,
        at=at(7.2, 8.2),
        height_m=1.5,
        model="rack-12u",
        studs_mm=440,
        keeps_min=60,
    )
    d.add("service-entry", "Service entry", storey_id=s, at=at(5.2, 12.9))
    d.in_rack("GW1", "gateway-1g", rack)
    d.in_rack("PP1", "panel-24", rack)
    d.in_rack("SW1", "switch-24-poe", rack)
    d.in_rack("UPS1", "ups-600", rack)
    recorder = d.in_rack("REC1", "recorder-8", rack, disks_tb=[8, 8], keeps_days=14)
    d.add("link", "C-01", medium="cord", a={"on": rack}, b={"on": recorder})
    number = 0
    for label, x, y, model, mount in POINTS:
        height = 3.0 if mount == "outdoor" else 2.6
        point = d.add(
            "access-point", label, storey_id=s, at=at(x, y), height_m=height, model=model, mount=mount
        )
        number += 1
        d.run(f"R-{number:02d}", rack, point, "cat6a-outdoor-lszh" if mount == "outdoor" else "cat6a-indoor")
    for label, x, y, height, model in DEVICES:
        thing = d.thing(label, model, s, at(x, y), height)
        number += 1
        outdoor = model in ("camera-outdoor", "door-station")
        d.run(f"R-{number:02d}", rack, thing, "cat6-outdoor-lszh" if outdoor else "cat6-indoor")
    main = d.add("network", "Clinic", purpose="main", vlan=20, subnet="10.40.20.0/24")
    guest = d.add("network", "Waiting room", purpose="guest", vlan=30, subnet="10.40.30.0/24", isolated=True)
    things = d.add("network", "Payment and scanners", purpose="things", vlan=40, subnet="10.40.40.0/24")
    d.add("network", "Cameras", purpose="cameras", vlan=50, subnet="10.40.50.0/24", internet=False)
    d.add("ssid", "fern-hollow", network_id=main, security="transition")
    d.add(
        "ssid",
        "fern-hollow-guest",
        network_id=guest,
        security="transition",
        isolation=True,
        fast_roaming=False,
    )
    d.add("ssid", "fern-hollow-things", network_id=things, bands=["2.4"], security="wpa2", fast_roaming=False)
