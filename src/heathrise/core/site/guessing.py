"""What spaces are likely for, by their names and kinds: proposed, never taken for said.

The words stand in space_words.toml, whole words in several languages; a new one is a word there.
"""

import math
from collections.abc import Iterator

from heathrise.core.edit import Put
from heathrise.core.job import Job, Space
from heathrise.core.library import SpaceWords, library
from heathrise.core.site.actions import NotPossible, Shaped
from heathrise.core.site.building import polygon
from heathrise.core.site.wording import plain


def guess(space: Space, site_kind: str) -> SpaceWords | None:
    """Return what a space is for: by a word of its name, else by its kind; None where neither tells."""
    name, area_m2 = f" {plain(space.label)} ", polygon(space).area
    rows = [row for row in library().space_words.values() if area_m2 >= row.least_m2]
    rows = [row for row in rows if not row.homes or site_kind == "home"]
    by_word = (row for row in rows if any(f" {plain(word)} " in name for word in row.words))
    by_kind = (row for row in rows if space.space_kind in row.kinds)
    return next(by_word, None) or next(by_kind, None)


def proposed(job: Job) -> Iterator[Space]:
    """Yield every space nobody said anything of yet, with the need, people and hours its name tells of."""
    fresh = Space.model_fields["need"].default
    for space in job.of(Space):
        row = guess(space, job.site.site_kind)
        if row is None or space.need != fresh or space.people or space.profile is not None:
            continue
        people = math.ceil(polygon(space).area / row.m2_per_person) if row.m2_per_person else 0
        profile = row.profile if people else None
        yield space.model_copy(
            update={
                "need": row.need,
                "people": people,
                "profile": profile,
                "proposed": mark(row.need, people, profile),
            }
        )


def mark(need: str, people: int, profile: str | None) -> str:
    """Return what was proposed as a mark: a space that still has these was touched by nobody."""
    return f"{need} {people} {profile or ''}".strip()


def propose_needs(job: Job) -> Shaped:
    """Return the operations that give every space what its name tells of. Raises NotPossible for none."""
    found = tuple(proposed(job))
    if not found:
        raise NotPossible(
            "no space is left whose name or kind tells what it is for: name the spaces, or say it in the table"
        )
    note = f"{len(found)} spaces got a need from their name or kind, marked as proposed: look them through."
    return Shaped(tuple(Put(element=space) for space in found), note)
