"""Device lists, understood."""

from heathrise.exchange.inventory import read_inventory
from heathrise.work.answers.registry import Answer, answers, in_json
from heathrise.work.asking import TableAsked
from heathrise.work.open_job import OpenJob


@answers("brief.inventory", TableAsked)
def inventory(opened: OpenJob, asked: TableAsked) -> Answer:
    """What a device list says; nothing is saved yet."""
    return in_json(read_inventory(asked.rows), opened.newest().revision)
