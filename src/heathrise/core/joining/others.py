"""Over the mains wiring, and by services that come from outside."""

from heathrise.core.joining.case import Case
from heathrise.core.joining.way import Found, out, speed_sum, way
from heathrise.core.library.items import WayInfo
from heathrise.core.sums import SumLine


@way("powerline")
def powerline(case: Case, info: WayInfo) -> Found:
    """A share of the label, by the age of the wiring and the length of it."""
    if case.is_apart:
        return out("Two houses have boards of their own; across them nothing can be promised.")
    f, year = info.figures, case.job.site.built_year
    length_m = case.plan.length_m if case.plan else f["near_m"] + 1
    share, why = f["old_share"], "wiring of unknown age"
    if length_m <= f["near_m"]:
        share, why = f["near_share"], "a few metres of wiring"
    elif year is not None and year >= f["new_from"]:
        share, why = f["new_share"], f"built {year}"
    elif year is not None:
        share, why = (
            (f["middle_share"], f"built {year}")
            if year >= f["old_before"]
            else (f["old_share"], f"built {year}")
        )
    carries = speed_sum(
        f"{info.label}: what it carries",
        (
            SumLine(label="label of the pair", value=f["label_mbps"], unit="Mb/s"),
            SumLine(label=f"share of it: {why}", value=share, unit=""),
        ),
        f["label_mbps"] * share,
        "label x share",
        "design value",
    )
    return Found(throughput=carries)


def _service(info: WayInfo) -> Found:
    line = SumLine(label="usual of such a service", value=info.figures["speed_mbps"], unit="Mb/s")
    carries = speed_sum(
        f"{info.label}: what it carries",
        (line,),
        info.figures["speed_mbps"],
        "as measured there",
        "design value",
    )
    return Found(
        throughput=carries,
        cautions=("A second service is a second network: nothing of the first is reached without a tunnel.",),
    )


@way("cellular")
def cellular(_: Case, info: WayInfo) -> Found:
    """A router of the mobile network."""
    return _service(info)


@way("satellite")
def satellite(_: Case, info: WayInfo) -> Found:
    """A dish."""
    return _service(info)
