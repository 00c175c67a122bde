"""A picture as if it lay in even light: shadows, grey and yellowed paper taken out of it."""

import cv2
import numpy as np
from numpy.typing import NDArray

Gray = NDArray[np.uint8]


def evened(gray: Gray) -> Gray:
    """Return a grey picture, shape (height, width), as shares of the paper's own brightness about each place."""
    paper = cv2.resize(gray, None, fx=0.125, fy=0.125, interpolation=cv2.INTER_AREA)
    paper = cv2.dilate(paper, np.ones((9, 9), np.uint8)) if min(paper.shape) > 9 else paper
    paper = cv2.resize(cv2.blur(paper, (9, 9)), (gray.shape[1], gray.shape[0]))
    return np.asarray(cv2.divide(gray, np.maximum(paper, 1), scale=255), np.uint8)
