"""Ink told from paper: shadows, grey and yellowed paper evened out, thin and blurred lines kept."""

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

Gray = NDArray[np.uint8]
# Analysis needs no more than this along the longer side. [px]
_MOST_PX = 3600
# Ink is at least this share of the way from paper to what is half as dark as walls; faint ink this.
_OFF_PAPER, _FAINT = 0.3, 0.12


class Ink(NamedTuple):
    """Ink as 255 on 0 at working size, and the factor the picture was shrunk by.

    `every` holds thin and blurred lines too, which it makes wide; `strong` is as wide as what was drawn; `faint` holds
    all that is darker than paper, the last of its grain with it: good to ask whether a line that is known runs there.
    """

    every: Gray
    strong: Gray
    faint: Gray
    shrink: float


def evened(gray: Gray) -> Gray:
    """Return a grey picture, shape (height, width), as shares of the paper's own brightness about each place."""
    paper = cv2.resize(gray, None, fx=0.125, fy=0.125, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(paper, np.ones((9, 9), np.uint8)) if min(paper.shape) > 9 else paper
    paper = cv2.resize(cv2.blur(paper, (9, 9)), (gray.shape[1], gray.shape[0]))
    return np.asarray(cv2.divide(gray, np.maximum(paper, 1), scale=255), np.uint8)


def ink_of(gray: Gray) -> Ink:
    """Return the ink of a grey picture, shape (height, width)."""
    shrink = min(1.0, _MOST_PX / max(gray.shape))
    small: Gray = np.asarray(
        cv2.resize(gray, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA) if shrink < 1 else gray,
        np.uint8,
    )
    even = evened(small)
    middle, _ = cv2.threshold(even, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    every = _without_specks(_below(even, _ink_below(even, float(middle), _OFF_PAPER)))
    # The level itself is ink: a clean picture has but two.
    strong = np.minimum(_below(even, float(middle) + 1), every)
    # Grain is small, lines are long: of a softened picture fainter lines are told from it.
    soft: Gray = np.asarray(cv2.blur(even, (3, 3)), np.uint8)
    faint = np.maximum(_below(soft, _ink_below(soft, float(middle), _FAINT)), every)
    return Ink(every, strong, faint, shrink)


def _below(gray: Gray, level: float) -> Gray:
    return np.asarray(np.where(gray < level, 255, 0), np.uint8)


def _ink_below(even: Gray, middle: float, off_paper: float) -> float:
    """Return the grey below which paper is inked: clear of its grain, and light enough for thin or blurred lines.

    `off_paper` is the share of the way from paper to ink at least.
    """
    white = float(np.median(even))
    grain = 1.48 * float(np.median(np.abs(even.astype(float) - white)))
    return min(
        white - max(4.5 * grain, off_paper * (white - middle), 12.0 * off_paper / _OFF_PAPER), white - 1
    )


def _without_specks(ink: Gray, least_px: int = 16) -> Gray:
    count, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    big = np.zeros(count, np.uint8)
    big[1:] = np.where(stats[1:, cv2.CC_STAT_AREA] >= least_px, 255, 0)
    return np.asarray(big[labels], np.uint8)
