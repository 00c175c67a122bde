"""Tern Lane Music School: an invented school of two storeys with a portable classroom.

Heavy double-leaf walls round the practice rooms, a recital hall through both storeys, a yard.
The job is in hand: a few things are deliberately not yet right, so that findings have
something true to say.
"""

from demo.drawing import Drawing, at
from demo.suppliers import order
from heathrise.core.job import Job

NAME = "Tern Lane Music School"
LESSONS = {"need": "lessons"}
QUIET = {"need": "none"}
# label, storey, box, what differs from a room with a browsing need
GROUND_SPACES = (
    (
        "Recital hall",
        (0, 0, 14, 12),
        {
            "need": "lessons",
            "space_kind": "atrium",
            "ceiling_m": 6.2,
            "people": 180,
            "profile": "event-evening",
        },
    ),
    ("Stair", (0, 12, 4, 18), {"space_kind": "stair", "need": "presence"}),
    ("Green room", (4, 12, 14, 18), {"people": 12}),
    ("Foyer", (14, 0, 21, 8), {"need": "calls", "people": 60}),
    ("Office", (21, 0, 26, 8), {"people": 4}),
    ("Comms store", (26, 0, 29, 8), {"space_kind": "comms", **QUIET}),
    ("Staff room", (29, 0, 33, 8), {"people": 10}),
    ("Library", (33, 0, 40, 8), {"people": 20}),
    ("Corridor", (14, 8, 40, 10), {"space_kind": "corridor", "need": "calls"}),
    ("Practice 1", (14, 10, 17.5, 14.5), {}),
    ("Practice 2", (17.5, 10, 21, 14.5), {}),
    ("Practice 3", (21, 10, 24.5, 14.5), {}),
    ("Practice 4", (24.5, 10, 28, 14.5), {}),
    ("Percussion", (14, 14.5, 21, 18), {}),
    ("Plant", (21, 14.5, 28, 18), {"space_kind": "plant", "hottest_c": 42, "no_go": "boiler heat", **QUIET}),
    ("Ensemble", (28, 10, 35, 18), {**LESSONS, "people": 30}),
    ("Theory", (35, 10, 40, 18), {**LESSONS, "people": 16}),
    ("Yard", (14, 18, 40, 27), {"space_kind": "outdoor", "need": "outdoor"}),
    ("Portable classroom", (26, 27, 36, 34), {**LESSONS, "building": "Portable classroom", "people": 24}),
)
FIRST_SPACES = (
    ("Landing", (0, 12, 4, 18), {"space_kind": "stair", "need": "presence"}),
    ("Archive", (4, 12, 14, 18), {"need": "presence"}),
    ("Class A", (14, 0, 22, 8), {**LESSONS, "people": 24}),
    ("Class B", (22, 0, 30, 8), {**LESSONS, "people": 24}),
    ("Keyboard lab", (30, 0, 40, 8), {**LESSONS, "people": 20}),
    ("Upper corridor", (14, 8, 40, 10), {"space_kind": "corridor", "need": "calls"}),
    ("Practice 5", (14, 10, 17.5, 14.5), {}),
    ("Practice 6", (17.5, 10, 21, 14.5), {}),
    ("Practice 7", (21, 10, 24.5, 14.5), {}),
    ("Practice 8", (24.5, 10, 28, 14.5), {}),
    ("Instrument store", (14, 14.5, 28, 18), QUIET),
    ("Studio", (28, 10, 34, 18), {**LESSONS, "people": 8}),
    ("Control room", (34, 10, 40, 18), {**LESSONS, "people": 6}),
)
# label, storey, x, y, height, model, radios (band: channel, power)
CEILING = "ap-ceiling-wifi6-2x2"
POINTS = (
    (
        "Hall west",
        "Ground",
        3.5,
        6.0,
        5.8,
        "ap-ceiling-wifi6e-4x4",
        {"2.4": (None, 11), "5": (None, 17), "6": (None, 17)},
    ),
    ("Hall east", "Ground", 10.5, 6.0, 5.8, "ap-ceiling-wifi6e-4x4", {"5": (None, 17), "6": (None, 17)}),
    ("Foyer", "Ground", 17.5, 4.0, 2.9, CEILING, {"2.4": (1, 11), "5": (36, 17)}),
    ("Green room", "Ground", 8.0, 15.0, 2.9, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Library", "Ground", 36.5, 4.0, 2.9, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Practice row", "Ground", 20.6, 12.2, 2.9, CEILING, {"2.4": (1, 11), "5": (36, 17)}),
    ("Practice east", "Ground", 26.2, 12.6, 2.9, CEILING, {"5": (None, 17)}),
    ("Ensemble", "Ground", 31.5, 14.0, 2.9, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Theory", "Ground", 37.5, 13.5, 2.9, CEILING, {"5": (None, 17)}),
    ("Portable", "Ground", 31.0, 30.5, 2.6, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Yard eave", "Ground", 24.6, 18.4, 3.2, "ap-outdoor-wifi6-2x2", {"2.4": (None, 11), "5": (None, 17)}),
    ("Class A", "First", 18.0, 4.0, 2.7, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Keyboard lab", "First", 33.0, 4.5, 2.7, CEILING, {"2.4": (None, 11), "5": (40, 21)}),
    ("Upper practice", "First", 20.7, 12.2, 2.7, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
    ("Studio", "First", 33.2, 12.5, 2.7, CEILING, {"2.4": (None, 11), "5": (None, 17)}),
)
# label, storey, x, y, height, model
DEVICES = (
    ("Office outlet 1", "Ground", 22.0, 0.3, 0.4, "outlet-data"),
    ("Office outlet 2", "Ground", 25.5, 0.3, 0.4, "outlet-data"),
    ("Office phone", "Ground", 24.5, 0.3, 0.8, "desk-phone"),
    ("Staff outlet", "Ground", 31.0, 0.3, 0.4, "outlet-data"),
    ("Library outlet 1", "Ground", 39.6, 3.0, 0.4, "outlet-data"),
    ("Library outlet 2", "Ground", 39.6, 6.0, 0.4, "outlet-data"),
    ("Hall projector", "Ground", 7.0, 4.0, 5.8, "projector"),
    ("Stage outlet", "Ground", 0.4, 6.0, 0.4, "outlet-data"),
    ("Door station", "Ground", 16.0, -0.2, 1.4, "door-station"),
    ("Foyer camera", "Ground", 15.0, 7.4, 2.7, "camera-dome"),
    ("Yard camera", "Ground", 34.0, 18.3, 3.2, "camera-outdoor"),
    ("Lab outlet", "First", 39.6, 4.0, 0.4, "outlet-data"),
    ("Control outlet", "First", 39.6, 15.0, 0.4, "outlet-data"),
)
# wall label, along, width, build-up
DOORS = (
    ("Outer ground 1", 16.6, 1.8, "glazing-clear", "door"),
    ("Outer ground 1", 22.2, 2.4, "glazing-coated", "window"),
    ("Outer ground 1", 34.5, 3.6, "glazing-coated", "window"),
    ("Outer ground 2", 8.3, 1.4, "door-solid", "door"),
    ("Hall east wall", 3.0, 1.8, "door-solid", "door"),
    ("Hall south wall", 5.0, 1.2, "door-solid", "door"),
    ("Stair wall", 1.0, 0.9, "door-hollow", "door"),
    ("Corridor north", 3.0, 1.8, "door-hollow", "door"),
    ("Corridor north", 9.0, 0.9, "door-hollow", "door"),
    ("Corridor north", 13.2, 0.9, "door-solid", "door"),
    ("Corridor north", 16.5, 0.9, "door-hollow", "door"),
    ("Corridor north", 22.0, 1.2, "door-hollow", "door"),
    ("Practice north", 1.3, 0.9, "door-solid", "door"),
    ("Practice north", 4.8, 0.9, "door-solid", "door"),
    ("Practice north", 8.3, 0.9, "door-solid", "door"),
    ("Practice north", 11.8, 0.9, "door-solid", "door"),
    ("Corridor south", 2.0, 1.2, "door-solid", "door"),
    ("Corridor south", 8.5, 0.9, "door-hollow", "door"),
    ("Practice west", 5.4, 0.9, "door-solid", "door"),
    ("Portable wall 1", 4.5, 0.9, "door-hollow", "door"),
    ("Portable wall 3", 3.0, 4.0, "glazing-clear", "window"),
    ("Outer first 1", 3.0, 4.0, "glazing-coated", "window"),
    ("Outer first 1", 10.0, 4.0, "glazing-coated", "window"),
    ("Outer first 1", 18.0, 5.0, "glazing-coated", "window"),
    ("Upper corridor north", 3.0, 0.9, "door-hollow", "door"),
    ("Upper corridor north", 11.0, 0.9, "door-hollow", "door"),
    ("Upper corridor north", 20.0, 0.9, "door-hollow", "door"),
    ("Upper practice north", 1.3, 0.9, "door-solid", "door"),
    ("Upper practice north", 4.8, 0.9, "door-solid", "door"),
    ("Upper practice north", 8.3, 0.9, "door-solid", "door"),
    ("Upper practice north", 11.8, 0.9, "door-solid", "door"),
    ("Upper corridor south", 2.0, 0.9, "door-solid", "door"),
    ("Upper corridor south", 8.0, 0.9, "door-hollow", "door"),
)
# As the planner gives them out: see demo/give_out.py.
PORTS = {
    "R-01": "SW2/1",
    "R-02": "SW2/2",
    "R-03": "SW1/1",
    "R-04": "SW1/2",
    "R-05": "SW2/3",
    "R-06": "SW2/6",
    "R-07": "SW1/5",
    "R-08": "SW2/7",
    "R-09": "SW1/3",
    "R-10": "SW2/4",
    "R-11": "SW1/7",
    "R-12": "SW2/5",
    "R-13": "SW1/4",
    "R-14": "SW1/6",
    "R-15": "SW2/8",
    "R-16": "SW1/11",
    "R-17": "SW1/12",
    "R-18": "SW1/13",
    "R-19": "SW1/14",
    "R-20": "SW1/15",
    "R-21": "SW1/16",
    "R-22": "SW1/17",
    "R-23": "SW1/18",
    "R-24": "SW1/19",
    "R-25": "SW1/20",
    "R-26": "SW1/21",
    "R-27": "SW1/22",
    "R-28": "SW1/23",
}


def tern_lane() -> Job:
    """Return the demo job."""
    d = Drawing(NAME)
    _facts(d)
    ground = d.add("storey", "Ground", elevation_m=0, ceiling_m=2.9, void_m=0.4)
    first = d.add("storey", "First", elevation_m=3.5, ceiling_m=2.7, void_m=0.3)
    _ground_walls(d, ground)
    _first_walls(d, first)
    for storey, spaces in ((ground, GROUND_SPACES), (first, FIRST_SPACES)):
        for label, box, body in spaces:
            d.space(storey, label, box, **body)
    for number, (wall, along, width, build_up, kind) in enumerate(DOORS, start=1):
        height = 1.2 if kind == "window" else 2.1
        d.add(
            "opening",
            f"{'Window' if kind == 'window' else 'Door'} {number}",
            wall_id=d.id_of("wall", wall),
            opening_kind=kind,
            at_m=along,
            width_m=width,
            sill_m=0.9 if kind == "window" else 0,
            height_m=height,
            build_up=build_up,
        )
    _kit(d, {"Ground": ground, "First": first})
    _networks(d)
    return d.job(PORTS)


def _facts(d: Drawing) -> None:
    d.add(
        "site",
        "Site",
        site_kind="school",
        address="Tern Lane 4, Example Bay",
        built_year=1974,
        domain="etsi-like",
    )
    d.add(
        "brief",
        "Brief",
        internet={"service": "fibre", "down_mbps": 500, "up_mbps": 100, "subnet": "192.168.1.0/24"},
        devices=[
            {
                "what": "Laptops and tablets",
                "count": 140,
                "moves": True,
                "purpose": "main",
                "device": "laptop",
            },
            {"what": "Staff phones", "count": 26, "moves": True, "purpose": "main", "device": "phone"},
            {
                "what": "Outlets, phones, cameras, door station",
                "count": 15,
                "moves": False,
                "purpose": "main",
            },
            {
                "what": "Sensors and room panels",
                "count": 30,
                "moves": False,
                "purpose": "things",
                "device": "sensor",
                "way": "air",
                "reason": "on batteries, all over the house",
            },
        ],
        answers=[
            {
                "question": "hours",
                "text": "Lessons 8 to 18, recitals on Friday evenings.",
                "on": "2026-09-14",
            },
            {"question": "crowd", "text": "180 people in the hall, 60 in the foyer.", "on": "2026-09-14"},
            {
                "question": "walls",
                "text": "Block, double leaves round the practice rooms; built 1974.",
                "on": "2026-09-14",
            },
            {"question": "budget", "text": "9,500 for kit in one step.", "on": "2026-09-21"},
            {"question": "drilling", "text": "No holes in the hall's panelling.", "on": "2026-09-21"},
        ],
        drops=[
            {"drop": "entrance", "wanted": True},
            {"drop": "projector", "wanted": True},
            {"drop": "stage", "wanted": True},
            {"drop": "lift", "wanted": False, "note": "there is none"},
            {"drop": "shed", "wanted": False},
        ],
        kept=[{"what": "Cat 5e run to the hall", "count": 1, "serves": True}],
        people_peak=240,
        guests_peak=150,
        budget=9500,
    )
    d.add("practice", "House practice", cables_per_point=1, width_5_mhz=40)
    order(
        d,
        "TL-26-1",
        hardships=["occupied"],
        begins="2027-02-15",
        extras=[{"what": "A tower for the recital hall, two days", "count": 1, "price": 140.0}],
    )


def _ground_walls(d: Drawing, s: str) -> None:
    d.wall(s, "cavity", (0, 0), (40, 0), (40, 18), (0, 18), (0, 0), label="Outer ground")
    d.wall(s, "block-dense-100", (14, 0), (14, 12), label="Hall east wall")
    d.wall(s, "block-dense-100", (0, 12), (14, 12), label="Hall south wall")
    d.wall(s, "block-dense-100", (4, 12), (4, 18), label="Stair wall")
    d.wall(s, "acoustic-double", (14, 18), (14, 12), label="Practice west")
    d.wall(s, "block-dense-100", (14, 8), (40, 8), label="Corridor north")
    d.wall(s, "acoustic-double", (14, 10), (28, 10), label="Practice north")
    d.wall(s, "block-dense-100", (28, 10), (40, 10), label="Corridor south")
    for x, label in ((21, "Foyer wall"), (26, "Office wall"), (29, "Comms wall"), (33, "Staff wall")):
        d.wall(s, "block-light-100", (x, 0), (x, 8), label=label)
    for number, x in enumerate((17.5, 21, 24.5), start=1):
        d.wall(s, "acoustic-double", (x, 10), (x, 14.5), label=f"Practice party wall {number}")
    d.wall(s, "acoustic-double", (28, 10), (28, 18), label="Ensemble west wall")
    d.wall(s, "acoustic-double", (14, 14.5), (28, 14.5), label="Percussion north wall")
    d.wall(s, "acoustic-double", (21, 14.5), (21, 18), label="Percussion east wall")
    d.wall(s, "acoustic-double", (35, 10), (35, 18), label="Theory west wall")
    d.wall(s, "metal-clad", (26, 27), (36, 27), (36, 34), (26, 34), (26, 27), label="Portable wall")


def _first_walls(d: Drawing, s: str) -> None:
    outer = ((14, 0), (40, 0), (40, 18), (0, 18), (0, 12), (14, 12), (14, 0))
    d.wall(s, "cavity", *outer, label="Outer first")
    d.wall(s, "block-dense-100", (4, 12), (4, 18), label="Landing wall")
    d.wall(s, "acoustic-double", (14, 12), (14, 18), label="Archive east wall")
    d.wall(s, "block-light-100", (14, 8), (40, 8), label="Upper corridor north")
    d.wall(s, "acoustic-double", (14, 10), (28, 10), label="Upper practice north")
    d.wall(s, "block-light-100", (28, 10), (40, 10), label="Upper corridor south")
    for x, label in ((22, "Class A wall"), (30, "Class B wall")):
        d.wall(s, "stud-plasterboard", (x, 0), (x, 8), label=label)
    for number, x in enumerate((17.5, 21, 24.5), start=1):
        d.wall(s, "acoustic-double", (x, 10), (x, 14.5), label=f"Upper party wall {number}")
    d.wall(s, "acoustic-double", (28, 10), (28, 18), label="Studio west wall")
    d.wall(s, "block-light-100", (14, 14.5), (28, 14.5), label="Store north wall")
    d.wall(s, "acoustic-double", (34, 10), (34, 18), label="Control room wall")


def _kit(d: Drawing, storeys: dict[str, str]) -> None:
    ground, first = storeys["Ground"], storeys["First"]
    rack = d.add(
        "rack", "TR1", storey_id=ground, at=at(27.5, 1.0), height_m=1.6, model="rack-22u", keeps_min=30
    )
    d.add("service-entry", "Service entry", storey_id=ground, at=at(27.0, 0.2))
    d.add("riser", "Comms riser", at=at(28.6, 1.0), from_storey_id=ground, to_storey_id=first)
    d.in_rack("GW1", "gateway-1g", rack)
    for panel in ("PP1", "PP2"):
        d.in_rack(panel, "panel-24", rack)
    d.in_rack("SW1", "switch-24-poe", rack)
    d.in_rack("SW2", "switch-16-poe-2g5", rack)
    d.in_rack("Strip 1", "power-strip", rack)
    d.in_rack("UPS1", "ups-600", rack)
    runs = {}
    for label, storey, x, y, height, model, radios in POINTS:
        point = d.add(
            "access-point",
            label,
            storey_id=storeys[storey],
            at=at(x, y),
            height_m=height,
            model=model,
            radios=[{"band": b, "channel": c, "power_dbm": p} for b, (c, p) in radios.items()],
        )
        runs[label] = (point, "cat6a-indoor")
    for label, storey, x, y, height, model in DEVICES:
        thing = d.thing(label, model, storeys[storey], at(x, y), height)
        runs[label] = (thing, "cat6-indoor")
    # An old cable the client hoped to keep, and one an earlier trade took across the yard.
    runs["Hall west"] = (runs["Hall west"][0], "cat5e-indoor")
    runs["Yard camera"] = (runs["Yard camera"][0], "cat6-outdoor-lszh")
    runs["Door station"] = (runs["Door station"][0], "cat6-outdoor-lszh")
    ids = []
    for number, (to_id, cable) in enumerate(runs.values(), start=1):
        ids.append(d.run(f"R-{number:02d}", rack, to_id, cable))
    d.add(
        "acceptance",
        "Portable classroom",
        finding_key=f"air.no-second-signal:{d.id_of('space', 'Portable classroom')}",
        reason="One room, one point: nobody walks in talking. Agreed with the caretaker.",
    )
    d.add(
        "pathway",
        "Comms wall sleeve",
        "conduit",
        pathway_kind="sleeve",
        bore="metric-50",
        there=False,
        link_ids=ids[:15],
    )
    d.add(
        "pathway",
        "Yard duct",
        "conduit",
        pathway_kind="duct",
        bore="metric-25",
        there=False,
        link_ids=ids[9:10],
    )


def _networks(d: Drawing) -> None:
    main = d.add("network", "School", purpose="main", vlan=20, subnet="10.20.20.0/23")
    guest = d.add("network", "Guests", purpose="guest", vlan=30, subnet="10.20.30.0/23", isolated=True)
    things = d.add("network", "Things", purpose="things", vlan=40, subnet="10.20.40.0/24")
    d.add("network", "Cameras", purpose="cameras", vlan=50, subnet="192.168.1.0/24", internet=False)
    d.add("ssid", "tern-lane", network_id=main, security="transition")
    d.add("ssid", "tern-lane-guest", network_id=guest, security="open", isolation=False, fast_roaming=False)
    d.add("ssid", "tern-lane-things", network_id=things, bands=["2.4"], security="wpa2", fast_roaming=False)
