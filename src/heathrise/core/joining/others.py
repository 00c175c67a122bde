"""Over the mains wiring, and by services that come from outside."""

from heathrise.core.joining.case import Case
from heathrise.core.joining.way import Found, fed_there, out, speed_sum, way
from heathrise.core.library import library
from heathrise.core.library.items import WayInfo
from heathrise.core.links.mains import over_mains, wiring_m
from heathrise.core.sums import Sum, SumLine

_BOARDS = "Two houses have boards of their own; across them nothing can be promised."


@way("powerline")
def powerline(case: Case, info: WayInfo) -> Found:
    """A share of the label, by the age of the wiring and the length of it."""
    if case.is_apart:
        return out(_BOARDS)
    return Found(throughput=_over_mains(case, info), pieces=fed_there(case))


@way("powerline-point")
def powerline_point(case: Case, info: WayInfo) -> Found:
    """The same, and the adapter at the far end is an access point itself."""
    if not case.radiates:
        return out("It serves nobody by radio: a plain pair of adapters does.")
    if case.is_apart:
        return out(_BOARDS)
    return Found(throughput=_over_mains(case, info))


def _over_mains(case: Case, info: WayInfo) -> Sum:
    units = (case.job.equipment[part.model].mains for part in info.parts if part.model)
    label_mbps = next((unit.label_mbps for unit in units if unit), 0.0)
    spots = [case.job.spot(end) for end in (case.run.a.on, case.run.b.on)] if case.run else []
    length_m = wiring_m(case.building, *spots) if spots else library().ways["powerline"].figures["near_m"] + 1
    return over_mains(info.label, label_mbps, case.job.site, length_m)


def _service(case: Case, info: WayInfo) -> Found:
    ports = (group for part in info.parts if part.model for group in case.job.equipment[part.model].ports)
    usual = max((group.speed_mbps for group in ports if group.medium == "air"), default=0)
    line = SumLine(label="usual of such a service", value=usual, unit="Mb/s")
    carries = speed_sum(
        f"{info.label}: what it carries",
        (line,),
        usual,
        "as measured there",
        "design value",
    )
    return Found(
        throughput=carries,
        pieces=fed_there(case),
        cautions=("A second service is a second network: nothing of the first is reached without a tunnel.",),
    )


@way("cellular")
def cellular(case: Case, info: WayInfo) -> Found:
    """A router of the mobile network."""
    return _service(case, info)


@way("satellite")
def satellite(case: Case, info: WayInfo) -> Found:
    """A dish."""
    return _service(case, info)
