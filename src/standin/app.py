"""The stand-in's HTTP API: what a controller offers under /sites, and what only a simulation can do under /sim.

Settings are changed with the revision they were read at in If-Match; one that is older is refused with 412.
"""

import re
import secrets
import time
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from threading import RLock
from typing import Any

from flask import Flask, Response, jsonify, request
from pydantic import BaseModel, ValidationError

from standin import keeping, told
from standin.shapes import Net, Pinned, Site, SiteSet, UnitSet, Wlan
from standin.world import Refused, World

_NAME = re.compile(r"^[a-z0-9-]{1,60}$")
_CATCH_UP_S = 3600
_TRIES = 5
_LOCKED_S = 30.0
# Faults of the line, not of the site: how a request itself goes wrong.
_LINE = ("gone", "slow", "garbage")


class Held:
    """A site with its clock: how fast it runs, when it was last let on, who is signed in."""

    def __init__(self, world: World, speed: float):
        self.world = world
        self.speed = speed
        self.since = time.monotonic()
        self.tokens: set[str] = set()
        self.wrong = 0
        self.locked_until = 0.0

    def catch_up(self) -> None:
        """Let the site's time go on to now."""
        passed = time.monotonic() - self.since
        due = min(int(passed * self.speed), _CATCH_UP_S)
        if due:
            self.since = time.monotonic()
            self.world.advance(due)


class Sites:
    """Every site, kept in a folder. One request at a time changes anything."""

    def __init__(self, folder: Path, speed: float):
        self.folder = folder
        self.speed = speed
        self.lock = RLock()
        self.held: dict[str, Held] = {}
        for path in sorted(folder.glob("*.json")):
            self.held[path.stem] = Held(keeping.load(path), speed)

    def get(self, name: str) -> Held:
        """Return a site. Raises Refused."""
        if name not in self.held:
            raise Refused(f"there is no site {name}", 404)
        return self.held[name]

    def put(self, name: str, site: Site) -> None:
        """Begin a site anew. Raises Refused for a name that is none."""
        if not _NAME.match(name):
            raise Refused("a site is called by small letters, digits and dashes", 422)
        self.held[name] = Held(World(site), self.speed)
        self.save(name)

    def save(self, name: str) -> None:
        """Keep a site."""
        keeping.save(self.held[name].world, self.folder / f"{name}.json")


def create(folder: Path, speed: float = 1.0) -> Flask:
    """Return the application over a folder."""
    app = Flask("standin", static_folder=None)
    app.config["MAX_CONTENT_LENGTH"] = 8_000_000
    sites = Sites(folder, speed)
    app.extensions["sites"] = sites
    _errors(app)
    _simulation(app, sites)
    _controller(app, sites)
    return app


def _errors(app: Flask) -> None:
    @app.errorhandler(Refused)
    def _refused(error: Refused) -> tuple[Response, int]:
        return jsonify(error=error.why), error.status

    @app.errorhandler(ValidationError)
    def _invalid(error: ValidationError) -> tuple[Response, int]:
        # Never what was sent: it may hold a secret.
        words = "; ".join(
            f"{'.'.join(map(str, e['loc']))}: {e['msg']}" for e in error.errors(include_input=False)
        )
        return jsonify(error=words), 422


def _body(shape: type[BaseModel]) -> Any:
    return shape.model_validate_json(request.get_data() or b"{}")


Handler = Callable[..., Any]


def _simulation(app: Flask, sites: Sites) -> None:
    """What only a simulation can do: sites, clock, faults, a hand that carries and resets."""

    @app.get("/sim/alive")
    def _alive() -> Response:
        return jsonify(sites=sorted(sites.held))

    @app.put("/sim/<name>")
    def _begin(name: str) -> Response:
        with sites.lock:
            sites.put(name, _body(Site))
        return jsonify(name=name)

    @app.delete("/sim/<name>")
    def _end(name: str) -> Response:
        with sites.lock:
            sites.held.pop(name, None)
            (sites.folder / f"{name}.json").unlink(missing_ok=True)
        return jsonify(name=name)

    @app.post("/sim/<name>/clock")
    def _clock(name: str) -> Response:
        wish = request.get_json()
        with sites.lock:
            held = sites.get(name)
            held.catch_up()
            held.speed = float(wish.get("speed", held.speed))
            held.world.advance(int(wish.get("advance_s", 0)))
            sites.save(name)
            return jsonify(now=held.world.now, speed=held.speed)

    @app.get("/sim/<name>/faults")
    def _list(name: str) -> Response:
        return jsonify(sites.get(name).world.faults)

    @app.post("/sim/<name>/faults")
    def _put(name: str) -> Response:
        with sites.lock:
            sites.get(name).world.put_fault(request.get_json())
            sites.save(name)
        return jsonify(sites.get(name).world.faults)

    @app.delete("/sim/<name>/faults")
    def _clear(name: str) -> Response:
        with sites.lock:
            sites.get(name).world.clear_faults()
            sites.save(name)
        return jsonify([])

    @app.post("/sim/<name>/hand/<deed>/<serial>")
    def _hand(name: str, deed: str, serial: str) -> Response:
        with sites.lock:
            world = sites.get(name).world
            if deed == "reset":
                world.release(serial)
            else:
                world.carry(serial, deed)
            sites.save(name)
        return jsonify(serial=serial)


def _controller(app: Flask, sites: Sites) -> None:
    """What a controller offers."""

    def of_site(writes: bool = False) -> Callable[[Handler], Handler]:
        def wrap(handler: Handler) -> Handler:
            @wraps(handler)
            def answer(name: str, **more: Any) -> Any:
                held = sites.get(name)
                broken = _line_fault(held.world)
                if broken is not None:
                    return broken
                with sites.lock:
                    _signed_in(held)
                    held.catch_up()
                    if writes:
                        _current(held.world)
                    found = handler(held.world, **more)
                    if writes:
                        sites.save(name)
                    found = {"revision": held.world.revision} if found is None else found
                    return jsonify(found)

            return answer

        return wrap

    @app.post("/sites/<name>/session")
    def _sign_in(name: str) -> Any:
        held, given = sites.get(name), request.get_json()
        broken = _line_fault(held.world)
        if broken is not None:
            return broken
        if time.monotonic() < held.locked_until:
            raise Refused("too many wrong tries; wait half a minute", 429)
        site = held.world.site
        if not _same(given, site):
            held.wrong += 1
            held.locked_until = time.monotonic() + _LOCKED_S if held.wrong >= _TRIES else 0.0
            raise Refused("account or secret is wrong", 401)
        token = secrets.token_urlsafe(24)
        held.tokens.add(token)
        held.wrong = 0
        return jsonify(token=token)

    _reading(app, of_site)
    _setting(app, of_site)
    _wishing(app, of_site)


def _same(given: Any, site: Site) -> bool:
    name, secret = str(given.get("account", "")), str(given.get("secret", ""))
    return secrets.compare_digest(name, site.account) and secrets.compare_digest(secret, site.secret)


def _line_fault(world: World) -> Response | None:
    """Return what a broken line answers, None where it is sound. A slow one is slow first."""
    for fault in world.faults:
        if fault["kind"] in _LINE and fault.get("after", 0) > 0:
            fault["after"] -= 1
            continue
        if fault["kind"] == "slow":
            time.sleep(float(fault["seconds"]))
        if fault["kind"] == "gone":
            return Response("", 503)
        if fault["kind"] == "garbage":
            return Response("<html>\x00 not what you asked for", 200, content_type="text/html")
    return None


def _signed_in(held: Held) -> None:
    token = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if token not in held.tokens:
        raise Refused("sign in first", 401)


def _current(world: World) -> None:
    """Refuse a change made of what is old: somebody else was faster."""
    known = request.headers.get("If-Match", "").strip('"')
    if known and known != str(world.revision):
        raise Refused(f"settings are at revision {world.revision}; this was made of {known}", 412)


def _reading(app: Flask, of_site: Any) -> None:
    app.get("/sites/<name>")(of_site()(_named("site", told.site_told)))
    app.get("/sites/<name>/all")(of_site()(_named("all", told.all_told)))
    app.get("/sites/<name>/units")(of_site()(_named("units", told.units_told)))
    app.get("/sites/<name>/config")(of_site()(_named("config", told.config_told)))
    app.get("/sites/<name>/alerts")(of_site()(_named("alerts", told.alerts_told)))
    app.get("/sites/<name>/people")(of_site()(_named("people", told.people_told)))
    app.get("/sites/<name>/archive")(of_site()(_named("archive", World.archive)))
    app.get("/sites/<name>/log")(of_site()(_named("log", lambda world: list(world.log))))

    @app.get("/sites/<name>/units/<serial>/heard")
    @of_site()
    def _heard(world: World, serial: str) -> Any:
        return world.states[world.known(serial).serial].heard


def _named(name: str, handler: Handler) -> Handler:
    def answer(world: World) -> Any:
        return handler(world)

    answer.__name__ = f"read_{name}"
    return answer


def _setting(app: Flask, of_site: Any) -> None:
    @app.put("/sites/<name>/config/nets")
    @of_site(writes=True)
    def _net(world: World) -> None:
        world.put_net(_body(Net))

    @app.delete("/sites/<name>/config/nets/<path:which>")
    @of_site(writes=True)
    def _no_net(world: World, which: str) -> None:
        world.drop_net(which)

    @app.put("/sites/<name>/config/wlans")
    @of_site(writes=True)
    def _wlan(world: World) -> None:
        wlan: Wlan = _body(Wlan)
        if wlan.net not in world.nets:
            raise Refused(f"there is no network {wlan.net}", 422)
        old = world.wlans.get(wlan.name)
        if wlan.secret is None and old is not None:
            wlan = wlan.model_copy(update={"secret": old.secret})
        if wlan.secret is None and wlan.guard not in ("open", "enterprise"):
            raise Refused(f"{wlan.name} needs a passphrase", 422)
        world.wlans[wlan.name] = wlan
        world.change(wlan.name, f"Name {wlan.name} is on the air for {wlan.net}.")

    @app.post("/sites/<name>/config/wlans/check")
    @of_site()
    def _check(world: World) -> Any:
        asked = request.get_json()
        wlan = world.wlans.get(str(asked["name"]))
        same = wlan is not None and secrets.compare_digest(wlan.secret or "", str(asked["secret"]))
        return {"same": same}

    @app.delete("/sites/<name>/config/wlans/<path:which>")
    @of_site(writes=True)
    def _no_wlan(world: World, which: str) -> None:
        if world.wlans.pop(which, None) is None:
            raise Refused(f"there is no name {which}", 404)
        world.change(which, f"Name {which} is off the air.")

    @app.put("/sites/<name>/config/pinned")
    @of_site(writes=True)
    def _pin(world: World) -> None:
        pinned: Pinned = _body(Pinned)
        world.pinned[pinned.name] = pinned
        world.change(pinned.name, f"{pinned.address} is kept for {pinned.name}.")

    @app.delete("/sites/<name>/config/pinned/<path:which>")
    @of_site(writes=True)
    def _no_pin(world: World, which: str) -> None:
        world.pinned.pop(which, None)
        world.change(which, f"No address is kept for {which} any more.")

    @app.put("/sites/<name>/config/whole")
    @of_site(writes=True)
    def _whole(world: World) -> None:
        world.whole = _body(SiteSet)
        world.change("site", "Settings of the whole were changed.")

    @app.put("/sites/<name>/units/<serial>/config")
    @of_site(writes=True)
    def _unit(world: World, serial: str) -> None:
        world.set_unit(serial, _body(UnitSet))

    @app.put("/sites/<name>/archive")
    @of_site(writes=True)
    def _restore(world: World) -> None:
        try:
            world.restore(request.get_json())
        except (KeyError, TypeError) as error:
            raise Refused("that is no backup of this controller", 422) from error


def _wishing(app: Flask, of_site: Any) -> None:
    @app.post("/sites/<name>/console/update")
    @of_site()
    def _console(world: World) -> Any:
        world.update_console()
        return {"revision": world.revision}

    deeds: dict[str, Callable[[World, str], None]] = {
        "take": World.take,
        "update": World.update,
        "listen": World.listen,
        "restart": World.restart,
    }

    @app.post("/sites/<name>/units/<serial>/<deed>")
    @of_site()
    def _unit_deed(world: World, serial: str, deed: str) -> Any:
        if deed in ("blink", "still"):
            world.states[world.known(serial).serial].blinks = deed == "blink"
        elif deed in deeds:
            deeds[deed](world, serial)
        else:
            raise Refused(f"there is no {deed}", 404)
        return {"revision": world.revision}
