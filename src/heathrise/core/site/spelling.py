"""Names of rooms as they were likely written, where a recogniser of letters read them: it knows no accents."""

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from difflib import SequenceMatcher, get_close_matches
from functools import lru_cache

from heathrise.core.library import library
from heathrise.core.site.wording import numbered, plain, printed_scales

# Read names are taken for a known one where so much of both is the same, and are at least so long. [1, letters]
_ALIKE, _LEAST_LETTERS = 0.78, 4
# Numbers like 0.07: level and room; what they look like where the point or the level was misread, before a name.
_POINTED = re.compile(r"(\d)\.\d\d(?!\d)(?![\d.]*\s*m)")
_POINT_LOST = re.compile(r"^(?:[^\W\d]\.?|\d[,;:]?)(\d\d)[\s_.\-]*([^\W\d_]{3})")
# So many numbers are written alike before others are taken for misread ones.
_LEAST_ALIKE = 3
# An area behind a name, whose raised two was not read.
_METRES_AFTER = re.compile(r"(\d[.,]\d{1,2})\s*-?m\S?$")
# The likest must be liker than the next by so much.
_CLEARLY = 0.05


def spelled(texts: Sequence[str]) -> list[str]:
    """Return texts with the names of rooms in them spelled as they are written in the tongue most of them are of.

    >>> spelled(["0.03 Reunion", "0.05Recepcin", "Oficina"])
    ['0.03 Reunión', '0.05 Recepción', 'Oficina']
    """
    once = _spelled(texts)
    # A name that was put right tells the tongue of the others.
    return once if once == list(texts) else _spelled(once)


def _spelled(texts: Sequence[str]) -> list[str]:
    parts = [_parted(text) for text in _numbered_alike(texts)]
    tongue = _tongue(name for _, name, _ in parts)
    shelves = [_spellings(tongue), _spellings(None)]
    out = []
    for text, (number, name, rest) in zip(texts, parts, strict=True):
        found = (_written(name, known) for known in shelves)
        written = None if printed_scales(text) else next(filter(None, found), None)
        out.append(" ".join(f"{number} {written} {rest}".split()) if written else text)
    return out


def _parted(text: str) -> tuple[str, str, str]:
    """Return the number before a name, the name, and what follows it from the next figure on, like an area."""
    number, after = numbered(text)
    cut = next((i for i, c in enumerate(after) if c.isdigit()), len(after))
    return number, after[:cut].strip(" _-"), _METRES_AFTER.sub(r"\1 m²", after[cut:])


def _numbered_alike(texts: Sequence[str]) -> list[str]:
    """Return texts with their first figures as most are: where those are like 0.07, so are p.07, 007 and b07."""
    pointed = [m[1] for text in texts if (m := _POINTED.match(text))]
    if len(pointed) < _LEAST_ALIKE:
        return list(texts)
    level, count = Counter(pointed).most_common(1)[0]
    if count < _LEAST_ALIKE:
        return list(texts)
    return [_POINT_LOST.sub(rf"{level}.\1 \2", text) for text in texts]


@lru_cache(maxsize=16)
def _spellings(tongue: str | None) -> dict[str, str]:
    """Return how the names of a tongue, or of all, are written by how they are read without accents."""
    rows = library().room_names
    return {plain(name): name for row in ([rows[tongue]] if tongue else rows.values()) for name in row.names}


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
