"""Through open air between two houses: radio bridges and a beam of light."""

import math

import numpy as np

from heathrise.core.job import Band
from heathrise.core.joining.case import Case, Span
from heathrise.core.joining.way import HEIGHT, Found, out, speed_sum, way
from heathrise.core.library import library, limit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.bridge import fog_db_km, free_space_db, rain_db_km
from heathrise.core.links.profile import PathCheck, path_check
from heathrise.core.radio.rates import phy_rates_mbps, usable_share
from heathrise.core.sums import Sum, SumLine

_NOISE_DBM_HZ = -174.0
# Light of 0.85 um: its zone is a hand wide at the most.
_LIGHT_GHZ = 353_000.0


def _no_span(case: Case) -> str:
    """Say why there is no open air for a bridge to look through."""
    if None in case.houses:
        return "It stands at no house of its own, or its rack does not; a bridge is worked out between two houses."
    return "Both ends are in one house; a bridge looks through open air."


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


def _blocked(check: PathCheck) -> str:
    return (
        f"Something stands in the path: both antennas would have to rise by {check.raise_m:.1f} m, "
        f"more than {limit('links.raise_m'):g} m over the eaves."
    )


def _cautions(check: PathCheck) -> tuple[str, ...]:
    rise = (
        () if check.is_clear else (f"Raise both antennas by {check.raise_m:.1f} m, or find a clearer path.",)
    )
    return (
        *rise,
        "Trees in leaf and after rain take more than bare ones; they grow. Look along the path in summer.",
        HEIGHT,
    )


def _by_band(case: Case, info: WayInfo, band: Band) -> Found:
    """A bridge in a band of the access points: EIRP by domain, fade margin, rate by what is left."""
    if case.span is None:
        return out(_no_span(case))
    f, span = info.figures, case.span
    domain = library().domains[case.job.site.domain]
    f_ghz = domain.middle_ghz[("2.4", "5", "6").index(band)]
    caps = [s.limit_dbm(f["width_mhz"]) for s in domain.sub_bands if s.band == band and not s.indoor_only]
    if not caps:
        return out(
            f"The {domain.label} domain lets nothing send outdoors in this band. Check with your regulator."
        )
    check, account = _clear(span, f_ghz, f"at {f_ghz:g} GHz")
    if not account.holds:
        return out(_blocked(check), account)
    eirp = min(f["most_dbm"] + f["gain_dbi"], max(caps))
    lost = free_space_db(span.length_m / 1000, f_ghz)
    rx = eirp - lost + f["gain_dbi"]
    # Steps of the rates are for 20 MHz: the noise of that width.
    noise = _NOISE_DBM_HZ + 10 * math.log10(20e6) + f["noise_figure_db"]
    snr = rx - limit("links.fade_margin_db") - noise
    phy = float(
        phy_rates_mbps(np.array([snr]), "5" if band == "5" else "4", int(f["width_mhz"]), int(f["streams"]))[
            0
        ]
    )
    share = usable_share(1)
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
            SumLine(label="gain of the far antenna", value=f["gain_dbi"], unit="dBi"),
            SumLine(label="noise over 20 MHz", value=round(noise, 1), unit="dBm"),
            SumLine(label="kept for fading", value=limit("links.fade_margin_db"), unit="dB"),
        ),
        formula="EIRP - (92.45 + 20 log10 d + 20 log10 f) + gain",
        source="ITU-R P.525; check the limit with your regulator",
    )
    if phy <= 0:
        return out("With its fade margin nothing is left for any rate.", account, level)
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label="rate at the level less the fade margin", value=round(phy, 1), unit="Mb/s"),
            SumLine(label="share left for data, both directions together", value=share, unit=""),
        ),
        phy * share,
        "rate x share",
        "IEEE 802.11-2020; design value of the share",
    )
    return Found(throughput=carries, checks=(account, level), cautions=_cautions(check))


def _rate_of_unit(info: WayInfo) -> Sum:
    """Return what a unit carries that either works or does not."""
    line = SumLine(label="its rate at this level", value=info.figures["speed_mbps"], unit="Mb/s")
    return speed_sum(
        f"{info.label}: what it carries", (line,), line.value, "the unit's rate", "design value of the unit"
    )


@way("bridge-5")
def bridge_5(case: Case, info: WayInfo) -> Found:
    """A bridge at 5 GHz."""
    return _by_band(case, info, "5")


@way("bridge-2")
def bridge_2(case: Case, info: WayInfo) -> Found:
    """A bridge at 2.4 GHz."""
    return _by_band(case, info, "2.4")


@way("bridge-60")
def bridge_60(case: Case, info: WayInfo) -> Found:
    """A bridge at 60 GHz: oxygen on every metre, and what is left in clear air must cover the rain."""
    if case.span is None:
        return out(_no_span(case))
    f, span = info.figures, case.span
    check, account = _clear(span, f["f_ghz"], f"at {f['f_ghz']:g} GHz")
    if not account.holds:
        return out(_blocked(check), account)
    km = span.length_m / 1000
    lost, oxygen, rain = (
        free_space_db(km, f["f_ghz"]),
        limit("links.oxygen_db_km") * km,
        rain_db_km(limit("links.rain_mm_h")) * km,
    )
    left = f["eirp_dbm"] - lost - oxygen + f["gain_dbi"] - f["needs_dbm"]
    weather = Sum(
        label="What is left in clear air",
        value=round(left, 1),
        unit="dB",
        limit=round(rain, 1),
        holds=left >= rain,
        lines=(
            SumLine(label="EIRP", value=f["eirp_dbm"], unit="dBm"),
            SumLine(label=f"free space over {span.length_m:.0f} m", value=-round(lost, 1), unit="dB"),
            SumLine(label="oxygen", value=-round(oxygen, 1), unit="dB"),
            SumLine(label="gain of the far antenna", value=f["gain_dbi"], unit="dBi"),
            SumLine(label="level its rate needs", value=f["needs_dbm"], unit="dBm"),
            SumLine(
                label=f"rain of {limit('links.rain_mm_h'):g} mm/h, passed in 0.01 % of the year",
                value=round(rain, 1),
                unit="dB",
            ),
        ),
        formula="EIRP - free space - oxygen + gain - level needed, against 0.86 R^0.77 x d",
        source="ITU-R P.525, P.676, P.838, P.837",
    )
    if not weather.holds:
        return out(
            "Rain passed in 0.01 % of the year stops it; only the 5 GHz behind it would be left.",
            account,
            weather,
        )
    return Found(throughput=_rate_of_unit(info), checks=(account, weather), cautions=_cautions(check))


@way("light-beam")
def light_beam(case: Case, info: WayInfo) -> Found:
    """A beam of light over a short span, against fog."""
    if case.span is None:
        return out(_no_span(case))
    f, span = info.figures, case.span
    if span.length_m > f["reach_m"]:
        return out(f"{span.length_m:.0f} m is over the {f['reach_m']:g} m such a beam is steady for.")
    check, account = _clear(span, _LIGHT_GHZ, "of the beam")
    if not account.holds:
        return out(_blocked(check), account)
    fog = fog_db_km(limit("links.fog_sight_m")) * span.length_m / 1000
    weather = Sum(
        label="What fog takes",
        value=round(fog, 1),
        unit="dB",
        limit=f["margin_db"],
        holds=fog <= f["margin_db"],
        lines=(
            SumLine(label="sight in thick fog", value=limit("links.fog_sight_m"), unit="m"),
            SumLine(label="length of the path", value=round(span.length_m, 1), unit="m"),
        ),
        formula="17 / V x d",
        source="ITU-R P.1814; design value of the unit",
    )
    if not weather.holds:
        return out("Thick fog stops it.", account, weather)
    light = "Laser classes are printed on the unit; never look into it, least of all through optics."
    return Found(
        throughput=_rate_of_unit(info), checks=(account, weather), cautions=(*_cautions(check), light)
    )
