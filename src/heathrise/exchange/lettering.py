"""Words in a picture, read by a text recogniser that ships its data: names of rooms, lengths, areas, the printed scale."""

import logging
import re
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
import structlog
from numpy.typing import NDArray

from heathrise.core.site.drawing import Words
from heathrise.core.site.spelling import spelled
from heathrise.exchange.paperink import evened

Gray = NDArray[np.uint8]
log = structlog.get_logger(__name__)
# Pictures are brought to this size first: smaller ones larger, as letters under a dozen pixels are not read; and to
# that for a closer look, which takes twice as long. [px, 1]
_FIRST, _CLOSER = (1800, 2.0), (2600, 3.0)
# A name, metres that may be an area, and how near below its name an area stands. [heights of a letter]
_NAME, _METRES = re.compile(r"[^\W\d_]{3}"), re.compile(r"^(\d{1,4}[.,]\d{1,2})\s*m\S?$")
_ASIDE, _UNDER = 3.0, 4.0
# What is less certain is not taken for words.
_LEAST_CERTAIN = 0.6
# Strokes are set off from what lies within so much of them, by so much. [px, 1]
_SOFT_PX, _SHARPER = 2.0, 0.8


@lru_cache(maxsize=1)
def _engine() -> Any:
    # Loaded when a picture comes: it takes half a second and much memory.
    from rapidocr_onnxruntime import RapidOCR  # noqa: PLC0415

    logging.getLogger("RapidOCR").setLevel(logging.ERROR)
    return RapidOCR(use_cls=False, print_verbose=False)


def _clear(gray: Gray) -> Gray:
    """Return a picture with its paper evened out and its strokes drawn sharper: faint letters are read then too."""
    even = evened(gray)
    soft = cv2.GaussianBlur(even, (0, 0), _SOFT_PX)
    return np.asarray(cv2.addWeighted(even, 1 + _SHARPER, soft, -_SHARPER, 0), np.uint8)


def read_letters(gray: Gray, known: Sequence[Words] = ()) -> list[Words]:
    """Return the words of a picture, shape (height, width), in pixels: middle, height of a line, words.

    With words that are `known` already it is looked at closer, and what was not read before is added to them.
    """
    most_px, larger = _CLOSER if known else _FIRST
    k = min(larger, most_px / max(gray.shape))
    how = cv2.INTER_AREA if k < 1 else cv2.INTER_CUBIC
    clear = evened(gray) if known else _clear(gray)
    seen = clear if k == 1 else cv2.resize(clear, None, fx=k, fy=k, interpolation=how)
    try:
        found, _ = _engine()(np.repeat(seen[:, :, None], 3, axis=2))
    except Exception as error:  # its own kinds, and what memory it was not given; walls need no words
        log.warning("letters_not_read", kind=type(error).__name__)
        return list(known)
    out = list(known)
    for corners, words, certain in found or ():
        box = np.array(corners, float) / k
        x, y = box.mean(axis=0)
        sides = np.hypot(*(np.roll(box, -1, axis=0) - box).T)
        one = Words(float(x), float(y), float(min(sides[0], sides[1])) * 0.8, words.strip())
        if float(certain) >= _LEAST_CERTAIN and not any(_over(one, other) for other in known):
            out.append(one)
    names = spelled([one.words for one in out])
    return with_areas([one._replace(words=name) for one, name in zip(out, names, strict=True)])


def _over(one: Words, other: Words) -> bool:
    """Say whether words lie where others do."""
    wide = 0.3 * other.height * len(other.words) + 0.5 * one.height
    return abs(one.x - other.x) < wide and abs(one.y - other.y) < other.height


def with_areas(words: list[Words]) -> list[Words]:
    """Return words with metres below a name taken for its area: a raised two is small, and lost first."""
    names = [one for one in words if _NAME.search(one.words)]

    def below_a_name(one: Words) -> bool:
        return any(
            abs(one.x - n.x) < _ASIDE * n.height and 0 < one.y - n.y < _UNDER * n.height for n in names
        )

    return [
        one._replace(words=f"{found[1]} m²")
        if (found := _METRES.match(one.words)) and below_a_name(one)
        else one
        for one in words
    ]
