"""Worked examples held against the core: a topic is one function from `given` to a result.

A case is a mapping with `topic`, `name`, `given`, `expect`. `null` means impossible: the core
refuses, or has no answer. Figures agree within 1e-3 relative, or 6e-5 absolute (the precision
they are written with).
"""

import math
from collections.abc import Callable, Mapping
from typing import Any

from heathrise.core.cabling.conduit import conduit_fill
from heathrise.core.cabling.lengths import cord_budget_m, equivalent_length, hot_link_m
from heathrise.core.cabling.testlimits import insertion_loss_limit_db, next_limit_db
from heathrise.core.library import UnknownItem
from heathrise.core.library.slab import slab_loss_db
from heathrise.core.links.bridge import fresnel_clearance
from heathrise.core.links.hops import shared_hops_mbps
from heathrise.core.power.feed import cable_loop_ohm, feed, max_power_w
from heathrise.core.radio.beacons import beacon_airtime
from heathrise.core.radio.budget import noise_floor_dbm, path_loss_db
from heathrise.core.sums import Noun

Given = Mapping[str, Any]
RELATIVE, ABSOLUTE = 1e-3, 6e-5


class Outcome(Noun):
    """One case, judged."""

    topic: str
    name: str
    expected: Any
    got: Any
    holds: bool
    why: str = ""


def _possible(compute: Callable[[], Any]) -> Any:
    try:
        return compute()
    except (ValueError, UnknownItem):
        return None


def _poe_feed(g: Given) -> Any:
    return feed(g["pd_w"], g["pse_v"], g["loop_ohm"])._asdict()


def _poe_cable(g: Given) -> Any:
    loop = cable_loop_ohm(g["awg"], g["temperature_c"], g["length_m"], g["pairs"])
    return {"loop_ohm": loop} | feed(g["pd_w"], g["pse_v"], loop)._asdict()


def _dc_feed(g: Given) -> Any:
    v, r = g["source_v"], g["loop_ohm"]
    fed = _possible(lambda: feed(g["load_w"], v, r)._asdict())
    return {"feed": fed, "max_w": _possible(lambda: max_power_w(v, r))}


def _equivalent(g: Given) -> Any:
    parts = [(length, temperature) for length, temperature in g["parts"]]
    return equivalent_length(parts, g["cords_m"], g["derate"], g["screened"]).model_dump()


TOPICS: dict[str, Callable[[Given], Any]] = {
    "poe-feed": _poe_feed,
    "poe-cable": _poe_cable,
    "dc-feed": _dc_feed,
    "cord-budget": lambda g: cord_budget_m(g["horizontal_m"], g["derate"]),
    "hot-link": lambda g: hot_link_m(g["temperature_c"], g["screened"]),
    "equivalent-length": _equivalent,
    "insertion-loss-limit": lambda g: insertion_loss_limit_db(g["cls"], g["f_mhz"]),
    "next-limit": lambda g: next_limit_db(g["cls"], g["f_mhz"]),
    "conduit-fill": lambda g: conduit_fill(g["inner_mm"], g["ods_mm"]).model_dump(),
    "path-loss": lambda g: path_loss_db(g["distance_m"], g["f_mhz"], g["exponent"], g["crossings_db"]),
    "noise-floor": lambda g: noise_floor_dbm(g["bandwidth_mhz"], g["noise_figure_db"]),
    "slab-loss": lambda g: slab_loss_db([(m, t) for m, t in g["layers"]], g["f_ghz"]),
    "fresnel": lambda g: fresnel_clearance(g["distance_km"], g["f_ghz"]).model_dump(),
    "shared-hops": lambda g: shared_hops_mbps(g["rates_mbps"]),
    "beacon-airtime": lambda g: beacon_airtime(g["bytes"], g["rate_mbps"], g["preamble_us"]),
}


def agrees(expected: Any, got: Any) -> bool:
    """Return whether a result agrees with what was expected; extra fields in it do no harm."""
    if isinstance(expected, Mapping):
        return isinstance(got, Mapping) and all(
            key in got and agrees(value, got[key]) for key, value in expected.items()
        )
    if isinstance(expected, bool) or expected is None or isinstance(expected, str):
        return bool(expected == got)
    if isinstance(got, bool) or not isinstance(got, int | float):
        return False
    return math.isclose(expected, got, rel_tol=RELATIVE, abs_tol=ABSOLUTE)


def evaluate(case: Given) -> Outcome:
    """Judge one case. An unknown topic or a missing field does not hold, and says why."""
    topic, name = str(case.get("topic")), str(case.get("name", ""))
    expected = case.get("expect")
    compute = TOPICS.get(topic)
    if compute is None:
        return Outcome(topic=topic, name=name, expected=expected, got=None, holds=False, why="unknown topic")
    try:
        got = _possible(lambda: compute(case["given"]))
    except (KeyError, TypeError) as error:
        why = f"cannot read given: {error}"
        return Outcome(topic=topic, name=name, expected=expected, got=None, holds=False, why=why)
    return Outcome(topic=topic, name=name, expected=expected, got=got, holds=agrees(expected, got))
