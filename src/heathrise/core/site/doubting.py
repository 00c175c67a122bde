"""Guesses of a proposal, those alike as one: the least certain are looked at first, and each is put right at once."""

from collections import defaultdict
from collections.abc import Iterable
from typing import get_args

from heathrise.core.site.proposal import Doubt, ProposedStorey

# What is alike to doubtful openings and yet sure is alike among itself.
CLEARLY = ", clearly"
# What is said of guesses that are alike: of what they are, what it is, what speaks for or against it.
_SAID: dict[str, tuple[str, str]] = {
    "faces": ("walls drawn by their faces or filled", "two faces, or one band, as thick as a wall"),
    "loose": ("walls that touch no other", "they may be furniture, steps or signs"),
    "line": ("walls drawn by a single line", "their thickness is not known"),
    "curve": ("pieces of curved walls", "they stand for a curve within 2 cm"),
    "stub": ("short walls with a free end", "they may be jambs, columns or furniture"),
    "door by mark, clearly": ("doors by their block", "it is named or shaped as a door"),
    "window by mark, clearly": ("windows by their block", "it is named or shaped as a window"),
    "opening by mark, clearly": ("passages by their block", "it is named as an opening"),
    "door by swing, clearly": ("doors by their swing in a gap", "an arc ends where the wall goes on"),
    "door by swing": ("doors by their swing, cut into walls drawn through", "the wall has no gap there"),
    "door by leaf": ("doors by a leaf without a swing", "a line stands off the side of a gap"),
    "door by slide": ("sliding doors", "a leaf lies beside a gap"),
    "window by glass, clearly": ("windows by their own layer or pen", "its lines run inside a wall"),
    "window by glass": ("windows by lines in a gap", "a sill or a threshold looks the same"),
    "window by pane": ("windows by lines inside a wall", "a duct or a niche looks the same"),
    "opening by gap": ("gaps taken for passages", "neither a leaf nor glass is drawn there"),
    "named": ("spaces named as rooms are", "their names are in the list of rooms"),
    "other name": ("spaces with a name no list of rooms has", "it may be the name of something in the room"),
    "no name": ("spaces without a name", "no word lies in them"),
}


def doubts_of(storeys: Iterable[ProposedStorey]) -> list[Doubt]:
    """Return the guesses, the least certain first, those alike as one. What a file says itself is no guess."""
    found: dict[tuple[str, str], list[float]] = defaultdict(list)
    for storey in storeys:
        for of, rows in (("wall", storey.walls), ("opening", storey.openings), ("space", storey.spaces)):
            for row in rows:
                if row.alike:
                    found[of, row.alike].append(row.certainty)
    kinds = get_args(Doubt.model_fields["of"].annotation)
    doubts = [
        Doubt(
            alike=alike,
            of=next(k for k in kinds if k == of),
            text=f"{len(rows)} {_SAID.get(alike, (alike, ''))[0]}",
            why=_SAID.get(alike, ("", "the drawing says no more"))[1],
            count=len(rows),
            certainty=round(min(rows), 2),
        )
        for (of, alike), rows in found.items()
    ]
    return sorted(doubts, key=lambda d: (d.certainty, -d.count))
