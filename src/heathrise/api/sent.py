"""A file that came with a form: its name in one line and its bytes, within a size; a table as its rows."""

from contextlib import closing
from typing import NamedTuple

from werkzeug.datastructures import FileStorage

from heathrise.exchange.rows import table_rows
from heathrise.exchange.unreadable import Unreadable
from heathrise.exchange.words import one_line
from heathrise.work.asking import TableAsked
from heathrise.work.bounded import bounded

_MB = 1_000_000
# A table of so many megabytes takes a second of a reader's time.
_TABLE_MB = 5
_TABLE_S = 20
_TABLE_ROWS = 20_000


class Sent(NamedTuple):
    """A file as it was sent."""

    name: str
    body: bytes


def sent(file: FileStorage, what: str, most_mb: float) -> Sent:
    """Return a form's file; `what` names it in the words of a refusal. Raises Unreadable."""
    # A part without a proper file name comes as text.
    if not isinstance(file, FileStorage):
        raise Unreadable(f"{what} did not come as a file", "Send it again")
    with closing(file):
        body = file.read(int(most_mb * _MB) + 1)
    if len(body) > most_mb * _MB:
        raise Unreadable(f"{what} has more than {most_mb} MB, which is the most", "Send a smaller one")
    return Sent(one_line(file.filename or "", what), body)


def sent_table(
    file: FileStorage, what: str, most_mb: float = _TABLE_MB, most_rows: int = _TABLE_ROWS
) -> TableAsked:
    """Return a table that came with a form, read within bounds. Raises Unreadable, Busy."""
    name, body = sent(file, what, most_mb)
    return TableAsked.model_construct(rows=bounded(what, _TABLE_S, table_rows, body, most_rows), name=name)
