"""What two like units carry through the open air between them: path, level, weather, rate."""

import math
from dataclasses import dataclass

import numpy as np

from heathrise.core.job import BANDS, Site
from heathrise.core.library import library, limit
from heathrise.core.library.equipment import AirUnit
from heathrise.core.links.bridge import fog_db_km, free_space_db, rain_db_km, rain_share
from heathrise.core.links.profile import PathCheck, path_check
from heathrise.core.links.span import Span
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.sums import Sum, SumLine

_NOISE_DBM_HZ = -174.0
_MINUTES_A_PERCENT = 365 * 24 * 60 / 100


@dataclass(frozen=True)
class OverAir:
    """What a hop carries, or why nothing. `checks` are its limits: the path first, then level, weather. `margin_db` is
    what is left over the level its rate needs, before any fade or rain.
    """

    why_not: str
    path: PathCheck | None
    checks: tuple[Sum, ...]
    throughput: Sum | None
    margin_db: float | None = None

    @property
    def mbps(self) -> float:
        """What it carries, 0 for one that does not. [Mb/s]"""
        return self.throughput.value if self.throughput is not None else 0.0


def over_air(span: Span, unit: AirUnit, site: Site, label: str) -> OverAir:
    """Return what two like units carry over a span, under the rules of a site's radio domain and in its rain."""
    if unit.light_margin_db is not None:
        return _by_light(span, unit, label)
    if unit.band is not None:
        return _by_band(span, unit, site.domain, label)
    rain_mm_h = site.climate.rain_mm_h
    return _by_level(span, unit, label, limit("links.rain_mm_h") if rain_mm_h is None else rain_mm_h)


def frequency_ghz(unit: AirUnit, domain: str) -> float:
    """Return the frequency a unit's path is looked at. [GHz]"""
    if unit.f_ghz is not None:
        return unit.f_ghz
    return library().domains[domain].middle_ghz[BANDS.index(unit.band or "5")]


def _clear(span: Span, f_ghz: float, what: str) -> tuple[PathCheck, Sum]:
    """Return the path looked along, and the account of its tightest place."""
    check = path_check(span.places, span.masts, f_ghz)
    worst = check.worst
    lines = (
        SumLine(label="length of the path", value=round(span.length_m, 1), unit="m"),
        SumLine(
            label="antennas over the ground",
            value=span.masts.from_m,
            unit="m",
            note=f"and [[{span.masts.to_m:g}|m]]",
        ),
        SumLine(
            label="tightest place, from the near end",
            value=round(worst.distance_m, 1) if worst else 0,
            unit="m",
        ),
        SumLine(label="the earth rises there", value=round(worst.bulge_m, 3) if worst else 0, unit="m"),
        SumLine(
            label="antennas to rise by",
            value=round(check.raise_m, 2),
            unit="m",
            note=f"at most [[{limit('links.raise_m'):g}|m]]",
        ),
    )
    account = Sum(
        label=f"Free over the path {what}",
        value=round(worst.free_m, 2) if worst else 0.0,
        unit="m",
        limit=round(worst.needs_m, 2) if worst else 0.0,
        holds=check.raise_m <= limit("links.raise_m"),
        lines=lines,
        formula="line between both antennas - what stands there - the earth's bulge, against 60 % of 17.32 sqrt(d1 d2 / (f d))",
        source="ITU-R P.526 section 2; ITU-R P.530 section 2.2",
    )
    return check, account


def _blocked(check: PathCheck, account: Sum) -> OverAir:
    why = (
        f"Something stands in the path: both antennas would have to rise by {check.raise_m:.1f} m, "
        f"more than {limit('links.raise_m'):g} m over the eaves."
    )
    return OverAir(why, check, (account,), None)


def _by_band(span: Span, unit: AirUnit, domain_code: str, label: str) -> OverAir:
    """In a band of the access points: EIRP by domain, fade margin, rate by what is left."""
    domain = library().domains[domain_code]
    caps = [
        s.limit_dbm(unit.width_mhz) for s in domain.sub_bands if s.band == unit.band and not s.indoor_only
    ]
    if not caps:
        why = f"The {domain.label} domain lets nothing send outdoors in this band. Check with your regulator."
        return OverAir(why, None, (), None)
    f_ghz = frequency_ghz(unit, domain_code)
    check, account = _clear(span, f_ghz, f"at {f_ghz:g} GHz")
    if not account.holds:
        return _blocked(check, account)
    eirp = min(unit.most_dbm + unit.gain_dbi, max(caps))
    lost = free_space_db(span.length_m / 1000, f_ghz)
    rx = eirp - lost + unit.gain_dbi
    # Steps of the rates are for 20 MHz: the noise of that width.
    noise = _NOISE_DBM_HZ + 10 * math.log10(20e6) + unit.noise_figure_db
    kept = limit("links.fade_margin_db")
    rates = phy_rates_mbps(
        np.array([rx - kept - noise]), "5" if unit.band == "5" else "4", unit.width_mhz, unit.streams
    )
    phy = float(rates[0])
    level = Sum(
        label="Level at the far end",
        value=round(rx, 1),
        unit="dBm",
        lines=(
            SumLine(
                label="EIRP",
                value=round(eirp, 1),
                unit="dBm",
                note=f"{domain.label} allows [[{max(caps):g}|dBm]] outdoors",
            ),
            SumLine(label=f"free space over {span.length_m:.0f} m", value=-round(lost, 1), unit="dB"),
            SumLine(label="gain of the far antenna", value=unit.gain_dbi, unit="dBi"),
            SumLine(label="noise over 20 MHz", value=round(noise, 1), unit="dBm"),
            SumLine(label="kept for fading", value=kept, unit="dB"),
        ),
        formula="EIRP - (92.45 + 20 log10 d + 20 log10 f) + gain",
        source="ITU-R P.525; check the limit with your regulator",
    )
    if phy <= 0:
        return OverAir("With its fade margin nothing is left for any rate.", check, (account, level), None)
    share = usable_share(1)
    lines = (
        SumLine(label="rate at the level less the fade margin", value=round(phy, 1), unit="Mb/s"),
        SumLine(label="share left for data, both directions together", value=share, unit=""),
    )
    carries = _speed(label, lines, phy * share, "rate x share", "IEEE 802.11-2020; design value of the share")
    return OverAir("", check, (account, level), carries, kept)


def _by_level(span: Span, unit: AirUnit, label: str, rain_mm_h: float) -> OverAir:
    """On a frequency of its own: what is left in clear air must cover the rain."""
    f_ghz = unit.f_ghz or 0.0
    check, account = _clear(span, f_ghz, f"at {f_ghz:g} GHz")
    if not account.holds:
        return _blocked(check, account)
    km = span.length_m / 1000
    lost = free_space_db(km, f_ghz)
    oxygen = limit("links.oxygen_db_km") * km if unit.oxygen else 0.0
    rain = rain_db_km(rain_mm_h) * km
    eirp, needs = unit.most_dbm + unit.gain_dbi, unit.needs_dbm or 0.0
    left = eirp - lost - oxygen + unit.gain_dbi - needs
    weather = Sum(
        label="What is left in clear air",
        value=round(left, 1),
        unit="dB",
        limit=round(rain, 1),
        holds=left >= rain,
        lines=(
            SumLine(label="EIRP", value=eirp, unit="dBm"),
            SumLine(label=f"free space over {span.length_m:.0f} m", value=-round(lost, 1), unit="dB"),
            SumLine(label="oxygen", value=-round(oxygen, 1), unit="dB"),
            SumLine(label="gain of the far antenna", value=unit.gain_dbi, unit="dBi"),
            SumLine(label="level its rate needs", value=needs, unit="dBm"),
            SumLine(
                label=f"rain of {rain_mm_h:g} mm/h, passed in 0.01 % of the year",
                value=round(rain, 1),
                unit="dB",
            ),
        ),
        formula="EIRP - free space - oxygen + gain - level needed, against 0.86 R^0.77 x d",
        source="ITU-R P.525, P.676, P.838, P.837",
    )
    if not weather.holds:
        why = "Rain passed in 0.01 % of the year stops it; only the 5 GHz behind it would be left."
        return OverAir(why, check, (account, weather), None, left)
    return OverAir("", check, (account, weather, _availability(left, rain)), _rate_of_unit(unit, label), left)


def _availability(left_db: float, rain_db: float) -> Sum:
    """Return how long rain stops a hop in a year, by what it has left and what rain takes."""
    away = rain_share(left_db, max(rain_db, 1e-6))
    return Sum(
        label="Rain stops it in a year, at the most",
        value=round(away * _MINUTES_A_PERCENT),
        unit="min",
        lines=(
            SumLine(label="left in clear air", value=round(left_db, 1), unit="dB"),
            SumLine(label="rain takes in 0.01 % of the year", value=round(rain_db, 2), unit="dB"),
            SumLine(label="share of the year that it stands", value=round(100 - away, 3), unit="%"),
        ),
        formula="A_p = A_0.01 x 0.12 p^-(0.546 + 0.043 log10 p), solved for p, down to 0.001 %",
        source="ITU-R P.530-12 section 2.4.1; meanwhile the band behind it carries on",
    )


def _by_light(span: Span, unit: AirUnit, label: str) -> OverAir:
    """By a beam of light over a short span, against fog."""
    reach_m, margin_db = unit.reach_m or 0.0, unit.light_margin_db or 0.0
    if span.length_m > reach_m:
        why = f"{span.length_m:.0f} m is over the {reach_m:g} m such a beam is steady for."
        return OverAir(why, None, (), None)
    check, account = _clear(span, unit.f_ghz or 0.0, "of the beam")
    if not account.holds:
        return _blocked(check, account)
    fog = fog_db_km(limit("links.fog_sight_m")) * span.length_m / 1000
    weather = Sum(
        label="What fog takes",
        value=round(fog, 1),
        unit="dB",
        limit=margin_db,
        holds=fog <= margin_db,
        lines=(
            SumLine(label="sight in thick fog", value=limit("links.fog_sight_m"), unit="m"),
            SumLine(label="length of the path", value=round(span.length_m, 1), unit="m"),
        ),
        formula="17 / V x d",
        source="ITU-R P.1814; design value of the unit",
    )
    if not weather.holds:
        return OverAir("Thick fog stops it.", check, (account, weather), None, margin_db)
    return OverAir("", check, (account, weather), _rate_of_unit(unit, label), margin_db)


def _rate_of_unit(unit: AirUnit, label: str) -> Sum:
    """Return what a unit carries that either works or does not."""
    line = SumLine(label="its rate at this level", value=unit.speed_mbps, unit="Mb/s")
    return _speed(label, (line,), line.value, "the unit's rate", "design value of the unit")


def _speed(label: str, lines: tuple[SumLine, ...], mbps: float, formula: str, source: str) -> Sum:
    return Sum(
        label=f"{label}: what it carries",
        value=round(mbps, 1),
        unit="Mb/s",
        lines=lines,
        formula=formula,
        source=source,
    )
