"""A sheet in a photograph: its four corners found, and the picture straightened by them."""

import cv2
import numpy as np
from numpy.typing import NDArray

from heathrise.exchange.readings import Corners

Gray = NDArray[np.uint8]
Floats = NDArray[np.float64]
# The sheet is at least so much of the picture, and brighter than what it lies on. [1, grey]
_LEAST_SHARE, _MOST_SHARE, _BRIGHTER = 0.2, 0.985, 25.0
_LOOK_PX, _EDGE_PX = 800, 8.0
_A_SIDES = float(np.sqrt(2))


def sheet_corners(gray: Gray) -> Corners | None:
    """Return the corners of a bright sheet on a darker ground, None where the picture is all sheet."""
    k = min(1.0, _LOOK_PX / max(gray.shape))
    small = cv2.resize(gray, None, fx=k, fy=k, interpolation=cv2.INTER_AREA) if k < 1 else gray
    # Ink on the sheet would tear it: closed over first.
    closed = cv2.morphologyEx(small, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8))
    flat: Gray = np.asarray(cv2.GaussianBlur(closed, (7, 7), 0), np.uint8)
    _, bright = cv2.threshold(flat, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    outlines, _ = cv2.findContours(bright, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    if not outlines:
        return None
    sheet = max(outlines, key=cv2.contourArea)
    share = cv2.contourArea(sheet) / small.size
    if not _LEAST_SHARE <= share <= _MOST_SHARE:
        return None
    mask = np.zeros_like(small)
    cv2.drawContours(mask, [sheet], -1, 255, -1)
    outside = flat[mask == 0]
    if not len(outside) or float(np.median(flat[mask > 0])) - float(np.median(outside)) < _BRIGHTER:
        return None
    hull = cv2.convexHull(sheet)
    for loose in (0.01, 0.02, 0.03, 0.05):
        quad = cv2.approxPolyDP(hull, loose * cv2.arcLength(hull, True), True).reshape(-1, 2)
        if len(quad) == 4:
            break
    else:
        return None
    if cv2.contourArea(quad) < 0.85 * cv2.contourArea(hull) or not _stands_out(flat, quad.astype(float)):
        return None
    return _ordered(quad / np.array([small.shape[1], small.shape[0]], float))


def _stands_out(gray: Gray, quad: Floats) -> bool:
    """Say whether a sheet's edges are edges: brighter within than beyond, on three sides at least. A shadow has none."""
    middle = quad.mean(axis=0)
    limits = np.array([gray.shape[1], gray.shape[0]]) - 1
    sharp = 0
    for a, b in zip(quad, np.roll(quad, -1, axis=0), strict=True):
        along = a + (b - a) * np.linspace(0.1, 0.9, 30)[:, None]
        out = (along - middle) / np.hypot(*(along - middle).T)[:, None] * _EDGE_PX
        within, beyond = np.round(along - out).astype(int), np.round(along + out).astype(int)
        seen = ((beyond >= 0) & (beyond <= limits)).all(axis=1)
        if seen.mean() < 0.5:
            continue
        step = gray[tuple(within[seen].T[::-1])].astype(float) - gray[tuple(beyond[seen].T[::-1])]
        sharp += float(np.median(step)) >= _BRIGHTER
    return sharp >= 3


def _ordered(points: Floats) -> Corners:
    """Return four points as upper left, upper right, lower right, lower left."""
    around = points - points.mean(axis=0)
    turn = np.argsort(np.arctan2(around[:, 1], around[:, 0]))
    ring = points[turn]
    first = int(np.argmin(ring.sum(axis=1)))
    a, b, c, d = (tuple(float(np.clip(n, 0, 1)) for n in p) for p in np.roll(ring, -first, axis=0))
    return (a[0], a[1]), (b[0], b[1]), (c[0], c[1]), (d[0], d[1])


def straightened(gray: Gray, corners: Corners) -> Gray:
    """Return what lies between four corners as a level sheet seen from above. Raises ValueError when they are no sheet."""
    height, width = gray.shape
    at = np.array(corners, float) * [width, height]
    if cv2.contourArea(at.astype(np.float32)) < 0.01 * width * height or not cv2.isContourConvex(
        at.astype(np.float32)
    ):
        raise ValueError("the four corners do not go round a sheet")
    sides = np.hypot(*(np.roll(at, -1, axis=0) - at).T)
    wide, high = (sides[0] + sides[2]) / 2, (sides[1] + sides[3]) / 2
    told = _aspect(at, width, height)
    aspect = told or wide / high
    # Paper is mostly of one shape; what the camera does not tell is taken for it from further off.
    for known in (_A_SIDES, 1 / _A_SIDES):
        if abs(aspect / known - 1) < (0.03 if told else 0.15):
            aspect = known
    long = float(max(wide, high))
    size = (round(long), round(long / aspect)) if aspect >= 1 else (round(long * aspect), round(long))
    goal = np.array([(0, 0), (size[0], 0), size, (0, size[1])], np.float32)
    matrix = cv2.getPerspectiveTransform(at.astype(np.float32), goal)
    return np.asarray(
        cv2.warpPerspective(gray, matrix, size, flags=cv2.INTER_AREA, borderValue=255), np.uint8
    )


def _aspect(at: Floats, width: int, height: int) -> float | None:
    """Return a sheet's width over its height as the camera saw it, None where it cannot be told.

    The lens is taken to look at the middle of the picture with square pixels. Source: Zhang and He, Whiteboard
    scanning and image enhancement, 2007, section 3.
    """
    middle = np.array([width / 2, height / 2])
    m1, m2, m4, m3 = (np.append(p - middle, 1.0) for p in at)
    k2 = np.dot(np.cross(m1, m4), m3) / np.dot(np.cross(m2, m4), m3)
    k3 = np.dot(np.cross(m1, m4), m2) / np.dot(np.cross(m3, m4), m2)
    n2, n3 = k2 * m2 - m1, k3 * m3 - m1
    if abs(n2[2]) < 1e-6 or abs(n3[2]) < 1e-6:
        return None
    f2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2])
    if not np.isfinite(f2) or f2 < (0.3 * max(width, height)) ** 2 or f2 > (20 * max(width, height)) ** 2:
        return None
    wide = (n2[0] ** 2 + n2[1] ** 2) / f2 + n2[2] ** 2
    high = (n3[0] ** 2 + n3[1] ** 2) / f2 + n3[2] ** 2
    return float(np.sqrt(wide / high))
