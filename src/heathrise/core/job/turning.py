"""Job files and kept elements of schema 1, turned into schema 2. Works on plain JSON bodies.

What changed: devices and switches are equipment with a place; a run is a link with two ends, its pin the
port of one of them, its injector equipment on its way; conduits and trays are pathways; every element has
an order, which schema 1 took from labels.
"""

import re
import uuid
from collections.abc import Iterable, Sequence
from typing import Any

Body = dict[str, Any]
_PATHWAYS = ("conduit", "tray")


def natural(body: Body) -> tuple[tuple[tuple[int, str], ...], str]:
    """Return a key that puts R-2 before R-10, and equal labels by their ids: the order of schema 1."""
    parts = re.findall(r"\d+|\D+", str(body.get("label", "")))
    return tuple((int(part), "") if part.isdigit() else (0, part) for part in parts), str(body.get("id"))


def orders_of(bodies: Iterable[Body]) -> dict[str, int]:
    """Return the order of every element by its id, as schema 1 would have put them."""
    return {str(body["id"]): number for number, body in enumerate(sorted(bodies, key=natural), start=1)}


def turn_job(document: Body) -> Body:
    """Return a job file of schema 1 as one of schema 2."""
    bodies = [body for body in document.get("elements", []) if isinstance(body, dict)]
    known = [body for body in bodies if "id" in body]
    orders = orders_of(known)
    turned = [new for body in bodies for new in turn(body, orders)]
    return {**document, "schema_version": 2, "elements": turned}


def turn(body: Body, orders: dict[str, int]) -> list[Body]:
    """Return what one element becomes: mostly itself, with its order."""
    given = {**body, "order": orders.get(str(body.get("id")), 0)}
    return _TURNS.get(str(body.get("kind")), lambda same: [same])(given)


def turn_change(
    operations: Sequence[Body], inverse: Sequence[Body], orders: dict[str, int]
) -> tuple[list[Body], list[Body]]:
    """Return a kept change and its inverse turned; an injector that came or went does so in both."""
    fed = {
        str(step["element"]["id"])
        for step in (*operations, *inverse)
        if step["op"] == "put" and step["element"].get("injector")
    }
    return _steps(operations, orders, fed), _steps(inverse, orders, fed)


def _steps(steps: Sequence[Body], orders: dict[str, int], fed: set[str]) -> list[Body]:
    found: list[Body] = []
    for step in steps:
        if step["op"] == "remove":
            found += [{"op": "remove", "id": injector_id(step["id"])}] if step["id"] in fed else []
            found.append(step)
            continue
        found += [{"op": "put", "element": body} for body in turn(step["element"], orders)]
        if step["element"]["id"] in fed and not step["element"].get("injector"):
            found.append({"op": "remove", "id": injector_id(step["element"]["id"])})
    return found


def injector_id(run_id: str) -> str:
    """Return the id of the injector on a run's way."""
    return str(uuid.uuid5(uuid.UUID(run_id), "injector"))


def _equipment(body: Body, place: Body, *moved: str) -> Body:
    kept = {key: value for key, value in body.items() if key not in moved}
    return {**kept, "kind": "equipment", "place": place}


def _device(body: Body) -> list[Body]:
    place = {
        "where": "sheet",
        "storey_id": body.get("storey_id"),
        "at": body.get("at"),
        "height_m": body.get("height_m", 0.4),
    }
    return [_equipment(body, place, "storey_id", "at", "height_m")]


def _switch(body: Body) -> list[Body]:
    return [_equipment(body, {"where": "rack", "rack_id": body.get("rack_id")}, "rack_id")]


def _run(body: Body) -> list[Body]:
    pin = body.get("pin")
    near = {"on": pin["switch_id"], "port": str(pin["port"])} if pin else {"on": body.get("rack_id")}
    moved = ("rack_id", "to_id", "cable", "pin", "injector")
    link = {key: value for key, value in body.items() if key not in moved}
    link |= {
        "kind": "link",
        "medium": "copper",
        "product": body.get("cable"),
        "a": near,
        "b": {"on": body.get("to_id")},
    }
    if not body.get("injector"):
        return [link]
    feed = {
        "kind": "equipment",
        "id": injector_id(str(body["id"])),
        "label": f"Injector of {body.get('label')}"[:80],
        "order": 0,
        "model": body["injector"],
        "place": {"where": "line", "link_id": body["id"]},
    }
    return [link, feed]


def _conduit(body: Body) -> list[Body]:
    kept = {key: value for key, value in body.items() if key != "run_ids"}
    return [{**kept, "kind": "pathway", "link_ids": body.get("run_ids", []), "there": False}]


def _line(body: Body) -> list[Body]:
    if body.get("line_kind") not in _PATHWAYS:
        return [body]
    kept = {key: value for key, value in body.items() if key not in ("line_kind", "keep")}
    return [{**kept, "kind": "pathway", "pathway_kind": body["line_kind"], "there": body.get("keep", True)}]


_TURNS = {"device": _device, "switch": _switch, "run": _run, "conduit": _conduit, "line": _line}
