"""Imports against their figures: files made with a known truth, read as the application reads them."""

import io
from uuid import uuid4

import numpy as np
from PIL import Image

from benchmarks import plans
from benchmarks.core import Row, median_s
from benchmarks.models import model
from heathrise.exchange.reading import read_file
from heathrise.exchange.readings import Reading, ReadingChoices

SEEDS = range(8)


def read(body: bytes, **asked) -> Reading:
    return read_file(body, ReadingChoices(**asked), lambda: str(uuid4()), "bench").reading


def share(reading: Reading, truth: np.ndarray) -> tuple[float, float]:
    walls = reading.proposal.storeys[0].walls
    found = np.array([[w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m] for w in walls]).reshape(-1, 4)
    if not len(found):
        return 0.0, 0.0

    def middle(lines):
        points = lines.reshape(-1, 2)
        return (points.min(axis=0) + points.max(axis=0)) / 2

    return plans.score(found - np.tile(middle(found) - middle(truth), 2), truth)


def vectors() -> tuple[float, float]:
    """Mean found and false shares over plans at several turns."""
    scores = []
    for seed in SEEDS:
        for turn in (0.0, 17.0, 45.0):
            made = plans.plan(seed).turned(turn)
            scores.append(share(read(plans.dxf(made).encode()), made.truth * [1, -1, 1, -1]))
    return tuple(np.mean(scores, axis=0))


def pictures() -> tuple[float, float]:
    """The same from scans at 150 dpi: filled and outlined, turned, grainy, furnished, lettered."""
    scores = []
    for seed in SEEDS:
        for filled in (True, False):
            for turn in (0.0, 1.3, -8.0):
                made = plans.plan(seed)
                image, _ = plans.scan(made, filled=filled, noise=8, seed=seed)
                turned = image.rotate(turn, expand=True, fillcolor=255, resample=Image.Resampling.BICUBIC)
                out = io.BytesIO()
                turned.save(out, "PNG")
                reading = read(out.getvalue(), metres_per_unit=0.0254 / 150 * 100)
                scores.append(share(reading, made.truth * [1, -1, 1, -1]))
    return tuple(np.mean(scores, axis=0))


def large_picture() -> bytes:
    """A scan of twelve megapixels or more."""
    made = plans.plan(3, 36, 24)
    return plans.picture(made, dpi=150, scale=53)


def rows() -> list[Row]:
    """Time the importers, score what they find, and return the table's lines."""
    dxf = plans.dxf(plans.plan(3, 40, 25), extra_entities=19_000).encode()
    dxf_s = median_s(lambda: read(dxf), 3)
    picture = large_picture()
    megapixels = np.prod(Image.open(io.BytesIO(picture)).size) / 1e6
    picture_s = median_s(lambda: read(picture, metres_per_unit=0.01), 3)
    ifc = model(storeys=4, rooms=498).encode()
    walls = ifc.count(b"=IFCWALL(")
    ifc_s = median_s(lambda: read(ifc), 1)
    found, false = vectors()
    seen, wrong = pictures()
    return [
        Row("DXF of 20,000 entities to proposed walls", f"{dxf_s:.1f} s", "", "", "5 s", dxf_s <= 5),
        Row(
            f"picture of {megapixels:.1f} megapixels to proposed walls",
            f"{picture_s:.1f} s",
            "",
            "",
            "8 s",
            picture_s <= 8,
        ),
        Row(f"IFC of {walls:,} walls", f"{ifc_s:.1f} s", "", "", "10 s", ifc_s <= 10),
        Row(
            "wall length found from vectors, false",
            f"{found:.1%}, {false:.1%}",
            "",
            "",
            "95 %, under 10 %",
            found >= 0.95 and false < 0.1,
        ),
        Row(
            "wall length found from scans, false",
            f"{seen:.1%}, {wrong:.1%}",
            "",
            "",
            "85 %, under 10 %",
            seen >= 0.85 and wrong < 0.1,
        ),
    ]
