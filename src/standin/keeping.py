"""The stand-in's own state on disk: one file a site, written whole beside the old one and then moved over it."""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

from standin.shapes import Net, Pinned, Site, SiteSet, Wlan
from standin.world import State, World


def save(world: World, path: Path) -> None:
    """Write a site."""
    body = {
        "site": world.site.model_dump(),
        "now": world.now,
        "revision": world.revision,
        "console_version": world.console_version,
        "console_until": world.console_until,
        "archive": world.archive(),
        "states": {serial: asdict(state) for serial, state in world.states.items()},
        "faults": world.faults,
    }
    path.parent.mkdir(parents=True, exist_ok=True)
    fresh = path.with_suffix(".new")
    fresh.touch(0o600)
    fresh.write_text(json.dumps(body), "utf-8")
    fresh.replace(path)


def load(path: Path) -> World:
    """Read a site. Raises ValueError or OSError for a file that is none."""
    body: dict[str, Any] = json.loads(path.read_text("utf-8"))
    world = World(Site.model_validate(body["site"]))
    kept = body["archive"]
    world.nets = {n["name"]: Net.model_validate(n) for n in kept["nets"]}
    world.wlans = {w["name"]: Wlan.model_validate(w) for w in kept["wlans"]}
    world.pinned = {p["name"]: Pinned.model_validate(p) for p in kept["pinned"]}
    world.whole = SiteSet.model_validate(kept["whole"])
    world.states |= {s: State(**state) for s, state in body["states"].items() if s in world.units}
    for name in ("now", "revision", "console_version", "console_until"):
        setattr(world, name, body[name])
    for fault in body["faults"]:
        world.put_fault(fault)
    world.settle()
    return world
