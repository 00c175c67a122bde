"""Building models made by hand as STEP text: storeys, layered walls, doors, windows, spaces, slabs."""

import uuid

_CHARS = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$"


def _guid(name: str) -> str:
    """A 22-character id as building models want it, the same at every build."""
    number = uuid.uuid5(uuid.NAMESPACE_URL, name).int
    digits = []
    for _ in range(22):
        number, rest = divmod(number, 64)
        digits.append(_CHARS[rest])
    return "".join(reversed(digits))


class Step:
    """Writes entities with numbers."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, text: str) -> str:
        self.lines.append(f"#{len(self.lines) + 1}={text};")
        return f"#{len(self.lines)}"

    def point(self, *xyz: float) -> str:
        return self.add(f"IFCCARTESIANPOINT(({','.join(f'{v:.4f}' for v in xyz)}))")

    def placement(
        self, x: float, y: float, z: float, to: str = "$", along: tuple[float, float] = (1, 0)
    ) -> str:
        up, way = (
            self.add("IFCDIRECTION((0.,0.,1.))"),
            self.add(f"IFCDIRECTION(({along[0]:.6f},{along[1]:.6f},0.))"),
        )
        axis = self.add(f"IFCAXIS2PLACEMENT3D({self.point(x, y, z)},{up},{way})")
        return self.add(f"IFCLOCALPLACEMENT({to},{axis})")

    def box(self, context: str, x0: float, y0: float, x1: float, y1: float, height: float) -> str:
        corners = ",".join(self.point(*p) for p in ((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0)))
        profile = self.add(f"IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,{self.add(f'IFCPOLYLINE(({corners}))')})")
        return self.prism(context, profile, height)

    def prism(self, context: str, profile: str, height: float) -> str:
        zero = self.add(f"IFCAXIS2PLACEMENT3D({self.point(0, 0, 0)},$,$)")
        up = self.add("IFCDIRECTION((0.,0.,1.))")
        solid = self.add(f"IFCEXTRUDEDAREASOLID({profile},{zero},{up},{height:.4f})")
        return self.add(f"IFCSHAPEREPRESENTATION({context},'Body','SweptSolid',({solid}))")


def model(
    storeys: int = 2,
    rooms: int = 2,
    unit: float = 1000.0,
    with_storeys: bool = True,
    axis: bool = True,
    origin: tuple[float, float] = (0.0, 0.0),
) -> str:
    """A row of rooms 4 x 5 m on each storey, 3 m high, drawn in millimetres (or `unit` per metre)."""
    s = Step()
    context = s.add(
        f"IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-05,{s.add(f'IFCAXIS2PLACEMENT3D({s.point(0, 0, 0)},$,$)')},$)"
    )
    prefix = {1000.0: ".MILLI.", 1.0: "$"}[unit]
    units = s.add(f"IFCUNITASSIGNMENT(({s.add(f'IFCSIUNIT(*,.LENGTHUNIT.,{prefix},.METRE.)')}))")
    project = s.add(f"IFCPROJECT('{_guid('project')}',$,'Model',$,$,$,$,({context}),{units})")
    building = s.add(
        f"IFCBUILDING('{_guid('building')}',$,'Building',$,$,{s.placement(0, 0, 0)},$,$,.ELEMENT.,$,$,$)"
    )
    s.add(f"IFCRELAGGREGATES('{_guid('agg')}',$,$,$,{project},({building}))")
    layered = {
        "outer": _layers(
            s, "Outer wall", (("Brick, facing", 0.102), ("Mineral wool", 0.1), ("Concrete block", 0.1)), unit
        ),
        "inner": _layers(
            s,
            "Inner wall",
            (("Gypsum plasterboard", 0.0125), ("Air", 0.07), ("Gypsum plasterboard", 0.0125)),
            unit,
        ),
        "core": _layers(s, "Core wall", (("Reinforced concrete", 0.2),), unit),
    }
    thick = {"outer": 0.302, "inner": 0.095, "core": 0.2}
    levels = []
    for number in range(storeys):
        place = s.placement(0, 0, number * 3.0 * unit)
        level = building
        if with_storeys:
            level = s.add(
                f"IFCBUILDINGSTOREY('{_guid(f'storey{number}')}',$,'{('Ground', 'First', 'Second', 'Third')[number]}',$,$,{place},$,$,.ELEMENT.,{number * 3.0 * unit:.3f})"
            )
            levels.append(level)
        made, spaces, uses = [], [], {key: [] for key in layered}
        width = 4.0 * rooms
        specs = [
            ("outer", 0, 0, width, 0),
            ("outer", width, 0, width, 5),
            ("outer", width, 5, 0, 5),
            ("outer", 0, 5, 0, 0),
        ] + [("core" if n % 3 == 2 else "inner", 4.0 * n, 0, 4.0 * n, 5) for n in range(1, rooms)]
        for index, (kind, x0, y0, x1, y1) in enumerate(specs):
            wall = _wall(
                s,
                context,
                place,
                f"{number}-{index}",
                kind,
                thick[kind],
                (x0, y0, x1, y1),
                unit,
                axis,
                origin,
            )
            made.append(wall)
            uses[kind].append(wall)
            if kind != "outer":
                made.append(
                    _hole(
                        s, context, wall, place, f"{number}-{index}", (x0, y0 + 1.0), unit, "IFCDOOR", origin
                    )
                )
            elif index == 0:
                made.append(
                    _hole(s, context, wall, place, f"{number}-{index}w", (1.0, 0), unit, "IFCWINDOW", origin)
                )
        for room in range(rooms):
            spaces.append(
                _space(
                    s,
                    context,
                    place,
                    f"{number}-{room}",
                    (4.0 * room + 0.2, 0.2, 4.0 * room + 3.8, 4.8),
                    unit,
                    origin,
                )
            )
        slab_place = s.placement(origin[0] * unit, origin[1] * unit, 0, place)
        body = s.box(context, 0, 0, width * unit, 5 * unit, 0.25 * unit)
        shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({body}))")
        slab = s.add(f"IFCSLAB('{_guid(f'slab{number}')}',$,'Slab',$,$,{slab_place},{shape},$,.FLOOR.)")
        slab_layers = _layers(s, "Floor", (("Concrete", 0.25),), unit)
        s.add(f"IFCRELASSOCIATESMATERIAL('{_guid(f'slabmat{number}')}',$,$,$,({slab}),{slab_layers})")
        made.append(slab)
        for kind, walls in uses.items():
            if walls:
                use = s.add(
                    f"IFCMATERIALLAYERSETUSAGE({layered[kind]},.AXIS2.,.POSITIVE.,{-thick[kind] / 2 * unit:.3f})"
                )
                s.add(
                    f"IFCRELASSOCIATESMATERIAL('{_guid(f'mat{number}{kind}')}',$,$,$,({','.join(walls)}),{use})"
                )
        s.add(f"IFCRELCONTAINEDINSPATIALSTRUCTURE('{_guid(f'in{number}')}',$,$,$,({','.join(made)}),{level})")
        s.add(f"IFCRELAGGREGATES('{_guid(f'sp{number}')}',$,$,$,{level},({','.join(spaces)}))")
    if levels:
        s.add(f"IFCRELAGGREGATES('{_guid('levels')}',$,$,$,{building},({','.join(levels)}))")
    head = "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('m.ifc','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n"
    return head + "\n".join(s.lines) + "\nENDSEC;\nEND-ISO-10303-21;\n"


def _layers(s: Step, name: str, layers: tuple[tuple[str, float], ...], unit: float) -> str:
    rows = [
        s.add(
            f"IFCMATERIALLAYER({s.add(f'IFCMATERIAL({chr(39)}{material}{chr(39)},$,$)')},{thick * unit:.4f},$,$,$,$,$)"
        )
        for material, thick in layers
    ]
    return s.add(f"IFCMATERIALLAYERSET(({','.join(rows)}),'{name}',$)")


def _wall(s, context, place, name, kind, thick, line, unit, axis, origin):
    x0, y0, x1, y1 = line
    long = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
    own = s.placement(
        (x0 + origin[0]) * unit, (y0 + origin[1]) * unit, 0, place, ((x1 - x0) / long, (y1 - y0) / long)
    )
    shapes = [s.box(context, 0, -thick / 2 * unit, long * unit, thick / 2 * unit, 2.75 * unit)]
    if axis:
        curve = s.add(f"IFCPOLYLINE(({s.point(0, 0)},{s.point(long * unit, 0)}))")
        shapes.insert(0, s.add(f"IFCSHAPEREPRESENTATION({context},'Axis','Curve2D',({curve}))"))
    shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({','.join(shapes)}))")
    return s.add(f"IFCWALL('{_guid(f'wall{name}')}',$,'{kind.capitalize()} {name}',$,$,{own},{shape},$,$)")


def _hole(s, context, wall, place, name, at, unit, filling, origin):
    x, y = at
    upright = filling == "IFCDOOR"
    own = s.placement((x + origin[0]) * unit, (y + origin[1]) * unit, 0 if upright else 0.9 * unit, place)
    wide = 0.9 if upright else 1.4
    box = (-0.3, 0, 0.3, wide) if upright else (0, -0.3, wide, 0.3)
    body = s.box(context, *(v * unit for v in box), (2.1 if upright else 1.2) * unit)
    hole = s.add(
        f"IFCOPENINGELEMENT('{_guid(f'hole{name}')}',$,'Opening',$,$,{own},{s.add(f'IFCPRODUCTDEFINITIONSHAPE($,$,({body}))')},$,$)"
    )
    s.add(f"IFCRELVOIDSELEMENT('{_guid(f'void{name}')}',$,$,$,{wall},{hole})")
    thing = s.add(
        f"{filling}('{_guid(f'fill{name}')}',$,'Leaf {name}',$,$,{own},$,$,{2.1 * unit:.1f},{wide * unit:.1f},$,$,$)"
    )
    s.add(f"IFCRELFILLSELEMENT('{_guid(f'fills{name}')}',$,$,$,{hole},{thing})")
    return thing


def _space(s, context, place, name, box, unit, origin):
    own = s.placement(origin[0] * unit, origin[1] * unit, 0, place)
    body = s.box(context, *(v * unit for v in box), 2.6 * unit)
    shape = s.add(f"IFCPRODUCTDEFINITIONSHAPE($,$,({body}))")
    return s.add(
        f"IFCSPACE('{_guid(f'space{name}')}',$,'{name}',$,$,{own},{shape},'Room {name}',.ELEMENT.,.INTERNAL.,$)"
    )
