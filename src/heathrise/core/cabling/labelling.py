"""Labels of runs by a scheme: unique, the same at both ends; the list from old to new when the scheme changes."""

from collections import Counter, defaultdict
from collections.abc import Iterator

from heathrise.core.cabling.ends import label_of, runs_of
from heathrise.core.cabling.runs import home_of
from heathrise.core.edit import Operation, Put
from heathrise.core.job import Job, Link
from heathrise.core.library import library
from heathrise.core.sums import Noun

_PANEL_PORTS = 24


class Relabelled(Noun):
    """A run's label before and after."""

    run_id: str
    old: str
    new: str


class Labels(Noun):
    """What a scheme calls every run; `changes` is how many are called otherwise now."""

    scheme: str
    runs: tuple[Relabelled, ...]
    changes: int


def labels_by(job: Job, scheme: str) -> Labels:
    """Return every run's label by a scheme, in the order of the runs. Raises UnknownItem for a scheme that is none."""
    template = library().labels[scheme].template
    runs = tuple(
        Relabelled(run_id=link.id, old=link.label, new=new)
        for link, new in zip(runs_of(job), _unique(template.format(**f) for f in _fields(job)), strict=True)
    )
    return Labels(scheme=scheme, runs=runs, changes=sum(run.old != run.new for run in runs))


def relabelled(job: Job, scheme: str) -> tuple[Operation, ...]:
    """Return the operations that label every run by a scheme, as one edit; ports, ways and ends stay as they are."""
    return tuple(
        Put(element=job.get(Link, run.run_id).model_copy(update={"label": run.new}))
        for run in labels_by(job, scheme).runs
        if run.old != run.new
    )


def _fields(job: Job) -> Iterator[dict[str, object]]:
    """Yield what a template may name, run by run."""
    entered = min(range(len(job.storeys)), key=lambda n: abs(job.storeys[n].elevation_m), default=0)
    level = {storey.id: n - entered for n, storey in enumerate(job.storeys)}
    in_rack: Counter[str] = Counter()
    on_storey: Counter[int] = Counter()
    for number, link in enumerate(runs_of(job), start=1):
        home, storey = home_of(job, link), level[job.spot(link.b.on).storey_id]
        panel, position = divmod(in_rack[home], _PANEL_PORTS)
        in_rack[home] += 1
        on_storey[storey] += 1
        yield {
            "run": number,
            "rack": label_of(job, home),
            "panel": chr(ord("A") + panel) if panel < 26 else f"P{panel + 1}",
            "position": position + 1,
            "storey": storey,
            "number": on_storey[storey],
        }


def _unique(labels: Iterator[str]) -> Iterator[str]:
    """Yield labels, one that was there already told apart by its count."""
    seen: dict[str, int] = defaultdict(int)
    for label in labels:
        seen[label] += 1
        yield label if seen[label] == 1 else f"{label} ({seen[label]})"
