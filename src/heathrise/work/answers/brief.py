"""Device lists, understood."""

from heathrise.core.site.listed import place_listed
from heathrise.exchange.inventory import ListRead, read_inventory
from heathrise.store.jobs import new_id
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import TableAsked
from heathrise.work.open_job import OpenJob


@answers("brief.inventory", TableAsked)
def inventory(opened: OpenJob, asked: TableAsked) -> Answer:
    """What a device list says; nothing is saved yet."""
    kept = opened.newest()
    found = read_inventory(asked.rows)
    placed = place_listed(kept.job, found.rows, new_id)
    return in_json(ListRead.model_validate(dict(found) | {"placed": placed}), kept.revision)
