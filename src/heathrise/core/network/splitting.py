"""One name for all bands, or a name a band: both schools beside each other, with what each costs in this job."""

from collections.abc import Sequence

from heathrise.core.edit import EditError, Operation, Put
from heathrise.core.job import AccessPoint, Job, Practice, Ssid
from heathrise.core.library import library
from heathrise.core.network.onair import airtime_of
from heathrise.core.radio.finds import RadioPlan
from heathrise.core.radio.walking import Walked
from heathrise.core.sums import Noun, Sum, SumLine


class Splitting(Noun):
    """One school: what it costs, whether it is the house's; `choice` is its number in the house practice."""

    label: str
    chosen: bool
    beacons: Sum | None
    names: Sum
    by_hand: Sum
    says: str
    choice: int


class Splittings(Noun):
    """Both schools, and why the house has the one it has."""

    question: str
    why: str
    ways: tuple[Splitting, ...]


_BAND_NAMES = "band-names"
_SAYS = {
    "one": "The network steers phones; a stubborn one may sit on 2.4 GHz for a while.",
    "split": "Who knows the difference chooses well; most people stay on what they joined first.",
}


def splittings(job: Job, rows: Sequence[RadioPlan], walks: Sequence[Walked]) -> Splittings:
    """Return both schools of names a band, with their costs here."""
    asked = library().practice[_BAND_NAMES]
    lost = [(walk.label, len(walk.drops)) for walk in walks if walk.band != "2.4"]
    ways = []
    for number, choice in enumerate(asked.choices):
        way = str(choice.sets["band_names"])
        named = _named(job, way)
        ways.append(
            Splitting(
                label=choice.label,
                chosen=job.practice.band_names == way,
                beacons=_worst(named, rows),
                names=_names(named),
                by_hand=_by_hand(lost if way == "split" else []),
                says=_SAYS[way],
                choice=number,
            )
        )
    return Splittings(question=asked.question, why=asked.why, ways=tuple(ways))


def _by_hand(lost: list[tuple[str, int]]) -> Sum:
    """Return how often a person would change to the other band by hand on the walks drawn."""
    return Sum(
        label="Changes of band by hand on the walks drawn",
        value=sum(count for _, count in lost),
        unit="",
        lines=tuple(SumLine(label=label, value=count, unit="") for label, count in lost),
        formula="stretches of a walk where the faster band is lost; with one name the network steers",
        source="stage 3: walks",
    )


def _names(job: Job) -> Sum:
    names = [ssid.label for ssid in job.of(Ssid)]
    return Sum(
        label="Names a phone sees",
        value=len(names),
        unit="",
        lines=tuple(SumLine(label=name, value=1, unit="") for name in names),
        source="stage 7: names",
    )


def _worst(job: Job, rows: Sequence[RadioPlan]) -> Sum | None:
    labels = {point.id: point.label for point in job.of(AccessPoint)}
    sums = [one for row in rows if row.on if (one := airtime_of(job, row, labels)) is not None]
    return max(sums, key=lambda one: one.value, default=None)


def _named(job: Job, way: str) -> Job:
    """Return the job with its names one for all bands, or one a band."""
    named = [ssid for group in _groups(job) for ssid in _group_named(group, way)]
    others = tuple(e for e in job.elements if not isinstance(e, Ssid))
    # Made, not copied: a copy would keep what the job has found out about its elements.
    return Job.model_construct(
        format=job.format,
        schema_version=job.schema_version,
        name=job.name,
        elements=(*others, *named),
        attachments=(),
        records=job.records,
    )


def _groups(job: Job) -> list[list[Ssid]]:
    """Return names that are one name but for their bands: of one network, with one security."""
    found: dict[tuple[str, str], list[Ssid]] = {}
    for ssid in job.of(Ssid):
        found.setdefault((ssid.network_id, ssid.security), []).append(ssid)
    return list(found.values())


def _group_named(group: list[Ssid], way: str) -> list[Ssid]:
    first, bands = group[0], tuple(dict.fromkeys(b for ssid in group for b in ssid.bands))
    if way == "one" or len(bands) < 2:
        return [first.model_copy(update={"bands": bands})]
    names = {ssid.bands: ssid for ssid in group}
    return [
        names.get((band,), first).model_copy(
            update={"id": f"{first.id}:{band}", "label": f"{first.label[:28]} {band}", "bands": (band,)}
        )
        for band in bands
    ]


def choose_practice(job: Job, code: str, choice: int) -> tuple[Operation, ...]:
    """Return what makes one choice of a question of stage 7 the practice of this job.

    Raises
    ------
    EditError
        If there is no such question, or it has no such choice.
    """
    asked = library().practice.get(code)
    if asked is None or not 0 <= choice < len(asked.choices):
        raise EditError(f"house practice has no choice {choice} for {code}")
    changed = job.practice.model_dump() | dict(asked.choices[choice].sets)
    return (Put(element=Practice.model_validate(changed)),)
