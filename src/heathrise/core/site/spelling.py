"""Names of rooms as they were likely written, where a recogniser of letters read them: it knows no accents."""

from collections import Counter
from collections.abc import Iterable, Sequence
from difflib import SequenceMatcher, get_close_matches
from functools import lru_cache

from heathrise.core.library import library
from heathrise.core.site.wording import numbered, plain

# Read names are taken for a known one where so much of both is the same, and are at least so long. [1, letters]
_ALIKE, _LEAST_LETTERS = 0.78, 4
# The likest must be liker than the next by so much.
_CLEARLY = 0.05


def spelled(texts: Sequence[str]) -> list[str]:
    """Return texts with the names of rooms in them spelled as they are written in the tongue most of them are of.

    >>> spelled(["0.03 Reunion", "0.05Recepcin", "Oficina"])
    ['0.03 Reunión', '0.05 Recepción', 'Oficina']
    """
    parts = [_parted(text) for text in texts]
    known = _spellings(_tongue(name for _, name, _ in parts))
    out = []
    for text, (number, name, rest) in zip(texts, parts, strict=True):
        written = _written(name, known)
        out.append(" ".join(f"{number} {written} {rest}".split()) if written else text)
    return out


def _parted(text: str) -> tuple[str, str, str]:
    """Return the number before a name, the name, and what follows it from the next figure on, like an area."""
    number, after = numbered(text)
    cut = next((i for i, c in enumerate(after) if c.isdigit()), len(after))
    return number, after[:cut], after[cut:]


@lru_cache(maxsize=16)
def _spellings(first: str | None) -> dict[str, str]:
    """Return how names are written by how they are read without accents, those of a tongue before the others'."""
    rows = library().room_names
    order = sorted(rows, key=lambda tongue: tongue != first)
    out: dict[str, str] = {}
    for tongue in order:
        for name in rows[tongue].names:
            out.setdefault(plain(name), name)
    return out


def _tongue(names: Iterable[str]) -> str | None:
    """Return the tongue that has most of the names, None where none has any."""
    said = {plain(name) for name in names}
    counts = Counter(
        {
            tongue: sum(plain(name) in said for name in row.names)
            for tongue, row in library().room_names.items()
        }
    )
    tongue, count = counts.most_common(1)[0]
    return tongue if count else None


def _written(name: str, known: dict[str, str]) -> str | None:
    """Return a name as it is written, None where it is like none that is known."""
    read = plain(name)
    if len(read.replace(" ", "")) < _LEAST_LETTERS:
        return None
    if read in known:
        best = read
    else:
        near = get_close_matches(read, known, 2, _ALIKE)
        if not near or (len(near) > 1 and _like(read, near[0]) - _like(read, near[1]) < _CLEARLY):
            return None
        best = near[0]
    return known[best].upper() if name.isupper() else known[best]


def _like(one: str, other: str) -> float:
    return SequenceMatcher(None, one, other).ratio()
