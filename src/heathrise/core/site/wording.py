"""Words on a drawing: what names a room, what numbers it, what is its area, a length, a scale, a title."""

import re
import unicodedata
from collections.abc import Iterable
from functools import lru_cache
from typing import NamedTuple

from heathrise.core.library import library

_WORD = re.compile(r"[^\W\d_]+")
_AREA = re.compile(
    r"(?:\b(?:area|fl(?:ae|ä)?che|surface|surf|sup(?:erficie)?|opp(?:ervlakte)?|yta|areal|pow|[afs]|n?gf|nf|bgf)\s*[:=.]?\s*)?"
    r"(?P<number>\d{1,5}(?:[.,]\d{1,3})?)\s*(?P<unit>m\s?[²2^]2?|qm|sq\.?\s?m\b|sq\.?\s?ft\b|sf\b|ft\s?[²2])",
    re.IGNORECASE,
)
# Heights, levels, perimeters and materials that stand in rooms and name nothing.
_NO_NAME = re.compile(
    r"(?:\b(?:rh|lrh|lh|ch|hsp|h|u|p|per|umf|peri?m(?:eter)?|ffl|ssl|fbh|ok\s?\w{0,3}|uk\s?\w{0,3}|bruh|brh|b|l|w)\s*[:=.]?\s*"
    r"[+±-]?\d+(?:[.,]\d+)?\s*(?:mm|cm|m)?(?!\w))|(?:(?<!\w)[+±]\s?\d+(?:[.,]\d+)?(?!\w))",
    re.IGNORECASE,
)
_NUMBER = re.compile(r"^(?:[a-z]{1,3}[-. ]?)?\d{1,4}(?:[.\-/:]\d{1,4}){0,3}[a-z]?$", re.IGNORECASE)
_LEADING = re.compile(
    r"^(?:(?P<number>(?:[a-z]{1,2}[-.]?)?\d{1,4}(?:[.\-/:]\d{1,4}){0,3}[a-z]?)[\s:,_\-–]+(?=\D)|(?P<glued>\d[\d.\-/]*)(?=[^\W\d_]{3}))"
    r"(?P<name>.+)$",
    re.IGNORECASE,
)
_FEET = re.compile(
    r"^(?:(?P<feet>\d{1,4})\s*(?:'|′|’|ft\.?)\s*-?\s*)?(?:(?P<inch>\d{1,4}(?:\.\d+)?)?\s*-?\s*(?:(?P<over>\d{1,2})/(?P<under>\d{1,2}))?\s*(?:\"|″|”|''|in\.?)?)$"
)
_METRIC = re.compile(r"^(\d{1,6}(?:[.,]\d{1,3})?)\s*(mm|cm|m)?$")
_UNIT_M = {"mm": 0.001, "cm": 0.01, "m": 1.0}
_PRINTED = re.compile(r"(?<![\d.:/])1\s*[:/]\s*(\d{1,4})(?![\d.:/])")
_INCHES = re.compile(r"(\d{1,2})(?:\s*/\s*(\d{1,2}))?\s*(?:\"|″|”|''|in\b)\s*=\s*(\d{1,3})\s*(?:'|′|’|ft)")
_PAPER = re.compile(r"(?<!\w)A([0-4])(?!\w)")
# Scales drawings of buildings are printed at.
PRINTED = (20, 25, 50, 75, 100, 125, 150, 200, 250, 300, 400, 500, 1000)
# Shorter lengths are not written beside what is measured; numbers of rooms look like them. [m]
_LEAST_M = 0.3
_FOOT_M, _INCH_M = 0.3048, 0.0254


class Length(NamedTuple):
    """A length in words: the number, and how many metres its unit may be, the likelier first."""

    number: float
    units_m: tuple[float, ...]


@lru_cache(maxsize=8192)
def plain(text: str) -> str:
    """Return a text in small letters without accents, its words alone and with single spaces between them."""
    bare = unicodedata.normalize(
        "NFKD", text.casefold().replace("ø", "o").replace("ł", "l").replace("æ", "ae")
    )
    kept = "".join(c for c in bare if not unicodedata.combining(c))
    return " ".join(_WORD.findall(kept))


def length_of(words: str) -> Length | None:
    """Return the length a text is, None where it is none.

    >>> length_of("3.60"), length_of("3600"), length_of("11'-6\\"")
    (Length(number=3.6, units_m=(1.0,)), Length(number=3600.0, units_m=(0.001, 0.01)), Length(number=3.5052, units_m=(1.0,)))
    """
    text = words.strip().replace("\u00a0", " ")
    metric = _METRIC.match(re.sub(r"(?<=\d)[ '](?=\d{3}\b)", "", text))
    if metric:
        number = float(metric[1].replace(",", "."))
        if number < _LEAST_M:
            return None
        if metric[2]:
            return Length(number, (_UNIT_M[metric[2]],))
        if re.search(r"[.,]", metric[1]):
            return Length(number, (1.0,) if number < 60 else (0.01, 1.0))
        return (
            Length(number, (0.001, 0.01))
            if number >= 60
            else Length(number, (0.01,))
            if number >= 20
            else None
        )
    feet = _FEET.match(text)
    if feet and re.search(r"['′’\"″”]|ft|in", text) and (feet["feet"] or feet["inch"]):
        inches = float(feet["inch"] or 0)
        if feet["over"] and float(feet["under"]):
            inches += float(feet["over"]) / float(feet["under"])
        total = float(feet["feet"] or 0) * _FOOT_M + inches * _INCH_M
        return Length(round(total, 5), (1.0,)) if total > 0 else None
    return None


def printed_scales(words: str) -> list[tuple[float, str]]:
    """Return the scales a text says it was printed at, as (100 for 1:100, the words)."""
    found = [(float(m[1]), m[0]) for m in _PRINTED.finditer(words) if int(m[1]) in PRINTED]
    for m in _INCHES.finditer(words):
        inches = float(m[1]) / float(m[2] or 1)
        if inches > 0 and float(m[3]) > 0:
            found.append((float(m[3]) * 12 / inches, m[0]))
    return found


def paper_of(words: str) -> str | None:
    """Return the paper a text names, like A3."""
    found = _PAPER.search(words)
    return f"A{found[1]}" if found else None


class RoomWords(NamedTuple):
    """What the words in a room say: its label, its area where they say it, how certain the name is."""

    label: str
    area_m2: float | None
    certainty: float


def room_words(texts: Iterable[str]) -> RoomWords:
    """Return what the texts in one room say, upper ones first: number, name and area parted."""
    number, names, area = "", [], None
    for text in texts:
        rest, said = _without_area(text)
        area = area or said
        rest = _NO_NAME.sub(" ", rest)
        rest = " ".join(re.sub(r"[()\[\]|]", " ", rest).split()).strip(" .,:;-–")
        if not rest or (length_of(rest) is not None and not _is_number(rest)):
            continue
        if _is_number(rest):
            number = number or rest
            continue
        if not number:
            number, rest = numbered(rest)
        if sum(c.isalpha() for c in rest) >= 2 and not _INCHES.search(rest):
            names.append(rest)
    known = [name for name in names if _is_known(name)]
    if known and len(names) > 1:
        # A lettered tag beside a word for rooms is the tag of something else.
        names = [name for name in names if name in known or len(plain(name)) > 3]
    name = " ".join(dict.fromkeys(names))
    certainty = 0.95 if known else 0.8 if name else 0.6 if number else 0.4
    return RoomWords(f"{number} {name}".strip()[:70], area, certainty)


def numbered(text: str) -> tuple[str, str]:
    """Return the number a text begins with, if any, and the name after it.

    >>> numbered("0.14 Office"), numbered("2Oficina")
    (('0.14', 'Office'), ('2', 'Oficina'))
    """
    leading = _LEADING.match(text)
    if not leading or not any(c.isalpha() for c in leading["name"]):
        return "", text
    return (leading["number"] or leading["glued"]).rstrip(".-/"), leading["name"].strip(" .,:;-–")


def _is_number(text: str) -> bool:
    """Say whether a text numbers a room; a bare decimal, metres or a number of four digits are a length."""
    if re.fullmatch(r"\d{4,}|\d+,\d+|\d+[.,]\d+\s*m[l²]?", text):
        return False
    return _NUMBER.match(text) is not None


def _without_area(text: str) -> tuple[str, float | None]:
    found = _AREA.search(text)
    if not found:
        return text, None
    number = float(found["number"].replace(",", "."))
    foreign = re.match(r"sq\.?\s?ft|sf|ft", found["unit"].lower())
    rest = text[: found.start()] + " " + text[found.end() :]
    return rest, round(number * _FOOT_M**2, 2) if foreign else number


@lru_cache(maxsize=4096)
def _is_known(name: str) -> bool:
    """Say whether a name has a word that is one of spaces in some language."""
    said = f" {plain(name)} "
    if any(f" {plain(word)} " in said for row in library().space_words.values() for word in row.words):
        return True
    return not _room_names().isdisjoint((said.strip(), *said.split()))


@lru_cache(maxsize=1)
def _room_names() -> frozenset[str]:
    return frozenset(plain(name) for row in library().room_names.values() for name in row.names)


class Title(NamedTuple):
    """What a title says: the level of a storey, or that what it stands by is no plan; and the words."""

    level: int | None
    is_plan: bool
    words: str


@lru_cache(maxsize=4096)
def title_of(words: str) -> Title | None:
    """Return what a text says of the part of the drawing it stands by, None where it is no title.

    >>> title_of("2. Obergeschoss").level, title_of("Section A-A").is_plan
    (2, False)
    """
    if len(words) > 60 or _AREA.search(words):
        return None
    said = f" {plain(words)} "
    rows = library().sheet_words

    def has(known: Iterable[str]) -> bool:
        return any(f" {plain(word)} " in said for word in known)

    no_plan = any(has(row.words) for row in rows.values() if row.level is None and not row.counts)
    levels = [row.level for row in rows.values() if row.level is not None and has(row.words)]
    number = re.search(r"(?<![\d:.,/])-?\d{1,2}(?![\d:.,/]*\d)", words)
    counted = [row for row in rows.values() if row.counts and has(row.words)]
    if no_plan and not (levels or (counted and number)):
        return Title(None, False, words)
    if levels:
        # "Basement 2" lies below "Basement"; a number beside a storey's own word counts nothing else.
        below = number is not None and levels[0] < 0 and 1 <= abs(int(number[0])) <= 5
        return Title(-abs(int(number[0])) if below and number else levels[0], True, words)
    if counted and number is not None and -5 <= int(number[0]) <= 60:
        return Title(int(number[0]), True, words)
    return None
