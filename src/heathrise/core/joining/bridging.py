"""Through open air between two houses: radio bridges and a beam of light."""

from heathrise.core.joining.case import Case
from heathrise.core.joining.way import HEIGHT, Found, out, way
from heathrise.core.library.equipment import AirUnit
from heathrise.core.library.items import WayInfo
from heathrise.core.links.overair import over_air
from heathrise.core.links.profile import PathCheck

_LIGHT = "Laser classes are printed on the unit; never look into it, least of all through optics."


def unit_of(case: Case, info: WayInfo) -> str:
    """Return the model of the units a way is built of. Raises StopIteration for a way of none."""
    return next(part.model for part in info.parts if part.model and case.job.equipment[part.model].air)


def _no_span(case: Case) -> str:
    """Say why there is no open air for a bridge to look through."""
    if None in case.houses:
        return "It stands at no house of its own, or its rack does not; a bridge is worked out between two houses."
    return "Both ends are in one house; a bridge looks through open air."


def _cautions(check: PathCheck | None, unit: AirUnit) -> tuple[str, ...]:
    lifts = check is not None and not check.is_clear
    rise = (
        (f"Raise both antennas by {check.raise_m:.1f} m, or find a clearer path.",) if check and lifts else ()
    )
    return (
        *rise,
        "Trees in leaf and after rain take more than bare ones; they grow. Look along the path in summer.",
        HEIGHT,
        *((_LIGHT,) if unit.light_margin_db is not None else ()),
    )


@way("bridge-60")
@way("bridge-5")
@way("bridge-2")
@way("light-beam")
def bridge(case: Case, info: WayInfo) -> Found:
    """Two like units that look at each other."""
    if case.span is None:
        return out(_no_span(case))
    unit = case.job.equipment[unit_of(case, info)].air
    if unit is None:
        return out("The library has no unit for it.")
    found = over_air(case.span, unit, case.job.site, info.label)
    if found.why_not:
        return out(found.why_not, *found.checks)
    return Found(throughput=found.throughput, checks=found.checks, cautions=_cautions(found.path, unit))
