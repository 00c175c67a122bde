"""The radio plan of a whole job: which 2.4 GHz radios are worth their noise, how wide, how loud.

What a person locked stays. Channels themselves stay with the plan (`channels`), which follows
every change; here it is given time for a bound, for the record of how good it is.
"""

import numpy as np
import shapely
from numpy.typing import NDArray

from heathrise.core.edit import Put
from heathrise.core.job import BANDS, AccessPoint, Band, Job, Radio
from heathrise.core.library import library, limit
from heathrise.core.radio.channels import channel_choices, eirp_limit_dbm, heard_dbm, plan_bands, width_of
from heathrise.core.radio.coverage import radios, signals
from heathrise.core.radio.finds import RadioChange, RadioProposal
from heathrise.core.radio.scene import Scene, scene_of
from heathrise.core.radio.views import with_points
from heathrise.core.site.building import building_of, spaces_on
from heathrise.core.units import ratio_to_db

WIDTHS: dict[str, tuple[int, ...]] = {"2.4": (20,), "5": (80, 40, 20), "6": (160, 80, 40, 20)}


def propose(job: Job, scene: Scene, seconds: float) -> RadioProposal:
    """Return the radio plan of a job; `seconds` is the solver's time for each band."""
    points = {point.id: point for point in job.of(AccessPoint)}
    why: dict[tuple[str, Band], list[str]] = {}
    settled = {i: {r.band: r for r in radios(job, p)} for i, p in points.items()}
    _powers(job, points, settled, why)
    _widths(job, scene, points, settled, why)
    _thin(job, scene, points, settled, why)
    new = tuple(p.model_copy(update={"radios": tuple(settled[i].values())}) for i, p in points.items())
    changed = with_points(job, new)
    changes = tuple(
        RadioChange(
            point_id=i,
            label=points[i].label,
            band=band,
            before=was,
            after=settled[i][band],
            why="; ".join(reasons),
        )
        for (i, band), reasons in why.items()
        if (was := next(r for r in radios(job, points[i]) if r.band == band)) != settled[i][band]
    )
    touched = {change.point_id for change in changes}
    return RadioProposal(
        changes=changes,
        before=plan_bands(job, scene).bands,
        after=plan_bands(changed, scene_of(building_of(changed)), seconds).bands,
        operations=tuple(Put(element=p) for p in new if p.id in touched),
    )


Settled = dict[str, dict[Band, Radio]]
Why = dict[tuple[str, Band], list[str]]


def _open(settled: Settled, point_id: str, band: Band) -> Radio | None:
    """Return a radio that may be changed: on, and not locked by a person."""
    radio = settled[point_id].get(band)
    return radio if radio is not None and radio.on and not (radio.locked or radio.aside) else None


def _powers(job: Job, points: dict[str, AccessPoint], settled: Settled, why: Why) -> None:
    """Set each radio as loud as its clients can answer, under the model's and the domain's limit."""
    client = library().clients[job.brief.client_class]
    hears_better = limit("air.noise_figure_client_db") - limit("air.noise_figure_point_db")
    for point_id, point in points.items():
        model = job.equipment[point.model]
        for band in BANDS:
            radio, has, sends = _open(settled, point_id, band), model.band(band), client.power_dbm(band)
            if radio is None or has is None or sends is None:
                continue
            combining = ratio_to_db(has.chains / 2) if has.chains > 2 else 0.0
            balanced = sends + hears_better + combining
            if band == "2.4":
                balanced = min(balanced, sends - limit("air.quieter_24_db"))
            eirp = _eirp_limit(job, radio, band)
            power = round(min(balanced, has.max_dbm, eirp - has.gain_dbi) * 2) / 2
            if abs(power - radio.power_dbm) >= 0.5:
                settled[point_id][band] = radio.model_copy(update={"power_dbm": power})
                reason = f"{power:.1f} dBm is as loud as a {client.label.lower()} can answer"
                why.setdefault((point_id, band), []).append(reason)


def _eirp_limit(job: Job, radio: Radio, band: Band) -> float:
    """Return the domain's limit at the radio's width: the channel's when one is set, else the most of any. [dBm]"""
    domain, width = library().domains[job.site.domain], width_of(job, radio)
    if radio.channel is not None:
        found = eirp_limit_dbm(domain, band, radio.channel, width)
        return found if found is not None else -200.0
    here = (piece.limit_dbm(width) for piece in domain.sub_bands if piece.band == band)
    return max(here, default=-200.0)


def _widths(job: Job, scene: Scene, points: dict[str, AccessPoint], settled: Settled, why: Why) -> None:
    """Set the widest channel of which there are enough for all points that hear each other."""
    most: dict[str, int] = {"2.4": 20, "5": job.practice.width_5_mhz, "6": job.practice.width_6_mhz}
    for band in BANDS:
        group = [p for i, p in points.items() if _open(settled, i, band)]
        if not group:
            continue
        heard = heard_dbm(job, scene, band, group) >= limit("air.heard_dbm")
        crowd = 1 + int(np.median(np.logical_or(heard, heard.T).sum(axis=0)))
        supply = {
            w: len(channel_choices(job, band, w, outdoors=False)) for w in WIDTHS[band] if w <= most[band]
        }
        width = next((w for w, count in supply.items() if count >= crowd), min(supply, default=20))
        for point in group:
            radio = settled[point.id][band]
            if width_of(job, radio) != width:
                settled[point.id][band] = radio.model_copy(update={"width_mhz": width})
                reason = (
                    f"{width} MHz: {supply[width]} channels for about {crowd} points that hear each other"
                )
                why.setdefault((point.id, band), []).append(reason)


def _thin(job: Job, scene: Scene, points: dict[str, AccessPoint], settled: Settled, why: Why) -> None:
    """Switch off 2.4 GHz radios, the most heard first, while every scored place keeps its signal."""
    seats = [p for i, p in points.items() if _open(settled, i, "2.4")]
    if len(seats) < 2:
        return
    now = tuple(p.model_copy(update={"radios": tuple(settled[p.id].values())}) for p in points.values())
    changed = with_points(job, now)
    levels, ids = _levels_24(changed, scene)
    heard = heard_dbm(changed, scene_of(building_of(changed)), "2.4", seats)
    order = sorted(range(len(seats)), key=lambda i: -float((heard[:, i] >= limit("air.heard_dbm")).sum()))
    on = np.ones(len(ids), bool)
    enough = limit("air.thin_24_dbm")
    kept_before = (levels.max(axis=0) >= enough).mean() if levels.size else 0.0
    for i in order:
        point = seats[i]
        if not (heard[:, i] >= limit("air.heard_dbm")).any():
            continue
        without = on & (np.array(ids) != point.id)
        if without.any() and (levels[without].max(axis=0) >= enough).mean() >= kept_before - 1e-9:
            on = without
            settled[point.id]["2.4"] = settled[point.id]["2.4"].model_copy(update={"on": False})
            loudest = float(heard[:, i].max())
            reason = f"off: every place keeps {enough:.0f} dBm without it, and another is heard at {loudest:.0f} dBm"
            why.setdefault((point.id, "2.4"), []).append(reason)


def _levels_24(job: Job, scene: Scene) -> tuple[NDArray[np.float32], list[str]]:
    """Return 2.4 GHz levels at every place of a scored space, (points, n), and whose they are."""
    parts, ids = [], []
    for storey in scene.building.storeys:
        grid = scene.grid(storey.id, 1.0)
        places = grid.points_m()
        scored = [s for s in spaces_on(job, storey.id) if library().needs[s.need].band is not None]
        inside = np.zeros(len(places), bool)
        for space in scored:
            inside |= shapely.contains_xy(scene.building.polygons[space.id], places[:, 0], places[:, 1])
        found = signals(job, scene, "2.4", places[inside])
        ids = [point.id for point in found.points]
        parts.append(found.way("weaker"))
    return (np.concatenate(parts, axis=1) if parts else np.empty((0, 0), np.float32)), ids
