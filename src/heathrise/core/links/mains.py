"""Data over the mains wiring: what a pair of adapters carries between two places of one house."""

from heathrise.core.deriving import Look, derived
from heathrise.core.job import Job, Link, Site, Spot
from heathrise.core.job.view import job_of
from heathrise.core.library import library
from heathrise.core.site.building import Building
from heathrise.core.site.derived import building
from heathrise.core.sums import Noun, Sum, SumLine


class MainsPlan(Noun):
    """One pair on the mains: what it carries, or why nothing."""

    link_id: str
    label: str
    ends: tuple[str, str]
    mbps: float
    holds: bool
    why_not: str
    throughput: Sum | None


@derived
def mains_links(look: Look) -> tuple[MainsPlan, ...]:
    """Every pair on the mains, in the links' own order."""
    job = job_of(look)
    found = [link for link in job.of(Link) if link.medium == "powerline"]
    return tuple(mains_plan(job, building(look), link) for link in found) if found else ()


def mains_plan(job: Job, of: Building, link: Link) -> MainsPlan:
    """Return one pair as it stands."""
    models = [job.model_of(end.on) for end in (link.a, link.b)]
    units = [model.mains if model else None for model in models]
    one, other = job.spot(link.a.on), job.spot(link.b.on)
    houses = (of.house_at(one.at), of.house_at(other.at))
    through = None
    if None in units or units[0] != units[1]:
        why = "Its ends are not alike: both must be adapters of one kind."
    elif houses[0] != houses[1]:
        why = "Its ends stand in two houses, which have boards of their own; across them nothing can be promised."
    else:
        assert units[0] is not None
        through, why = over_mains(link.label, units[0].label_mbps, job.site, wiring_m(of, one, other)), ""
    return MainsPlan(
        link_id=link.id,
        label=link.label,
        ends=(link.a.on, link.b.on),
        mbps=through.value if through else 0.0,
        holds=not why,
        why_not=why,
        throughput=through,
    )


def wiring_m(of: Building, one: Spot, other: Spot) -> float:
    """Return about how much wiring lies between two places of a house: along its walls and up. [m]"""
    up = of.storey(other.storey_id).elevation_m - of.storey(one.storey_id).elevation_m
    return abs(one.at.x_m - other.at.x_m) + abs(one.at.y_m - other.at.y_m) + abs(up)


def over_mains(label: str, label_mbps: float, site: Site, length_m: float) -> Sum:
    """Return what a pair carries over so much of a house's wiring: a share of its label, by age and length."""
    share, why = _share(site, length_m)
    return Sum(
        label=f"{label}: what it carries",
        value=round(label_mbps * share, 1),
        unit="Mb/s",
        lines=(
            SumLine(label="label of the pair", value=label_mbps, unit="Mb/s"),
            SumLine(label="wiring along the walls, about", value=round(length_m, 1), unit="m"),
            SumLine(label=f"share of it: {why}", value=share, unit=""),
        ),
        formula="label x share; no more than a hope until it is measured there",
        source="design value: 10 to 30 % of the label by the age of the wiring, 40 % at best",
    )


def _share(site: Site, length_m: float) -> tuple[float, str]:
    """Return the share of the label that is left, and why."""
    f, year = library().ways["powerline"].figures, site.built_year
    if length_m <= f["near_m"]:
        return f["near_share"], "a few metres of wiring"
    if year is None:
        return f["old_share"], "wiring of unknown age"
    if year >= f["new_from"]:
        return f["new_share"], f"built {year}"
    return (f["middle_share"] if year >= f["old_before"] else f["old_share"]), f"built {year}"
