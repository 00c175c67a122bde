"""A building proposed from a picture of a plan: straightened, cleaned, words read, strokes measured, faces paired.

What comes out is a proposal. A picture holds no layers: furniture that touches walls, or walls
fainter than the paper's grain, need the person's eye.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from heathrise.core.site.clues import Clue
from heathrise.core.site.doubting import doubts_of
from heathrise.core.site.drawing import Arc, Drawing, Words
from heathrise.core.site.parts import parted
from heathrise.core.site.proposal import Evidence, Proposal, ProposedStorey, Skipped
from heathrise.core.site.scaling import USUAL_LEAF_M, Scale, by_areas, scale_of
from heathrise.core.site.sketch import Ink as StoreyInk
from heathrise.core.site.sketch import NewId, areas_said, build_storey, sanity
from heathrise.core.site.tracing import Traced
from heathrise.exchange.inkopenings import opened, slides, swings
from heathrise.exchange.inkstrokes import Ends, Traces, strokes, traces
from heathrise.exchange.lettering import read_letters
from heathrise.exchange.paperink import Ink, ink_of
from heathrise.exchange.perspective import sheet_corners, straightened
from heathrise.exchange.readings import Corners, ReadingChoices
from heathrise.exchange.unreadable import NotAPicture, Progress, quiet

Gray = NDArray[np.uint8]
Floats = NDArray[np.float64]

# As many edge pixels are enough to tell the turn.
_TURN_SAMPLES = 60_000
# A picture whose longer side is less than this has letters too small to be read. [px]
_SMALL_PX = 1500
# As many doors are enough to guess a scale by.
_FEWEST_DOORS = 3
# Without a scale the drawing is taken to be this long. [m]
_USUAL_LENGTH_M = 16.0


@dataclass(frozen=True)
class Scan:
    """What was found: the straightened picture, its scale, walls and words in metres from its corner."""

    upright: Gray
    turn_deg: float
    scale: Scale
    corners: Corners | None
    traces: Traces
    words: tuple[Words, ...]
    swings: tuple[Arc, ...] = ()
    sheet_px: tuple[int, int] | None = None

    @property
    def metres_per_px(self) -> float:
        """Metres of the building one pixel of the straightened picture is."""
        return self.scale.per_unit

    @property
    def scale_known(self) -> bool:
        """Whether anything said the scale."""
        return self.scale.known

    @property
    def evidence(self) -> tuple[Evidence, ...]:
        """What was said of the scale."""
        return self.scale.evidence

    @property
    def walls(self) -> tuple[Traced, ...]:
        """The walls, in metres from the picture's corner."""
        return tuple(self.traces.walls)

    def storeys(self, new_id: NewId, label: str) -> tuple[list[ProposedStorey], list[Skipped]]:
        """Return the storeys the picture shows, and what of its walls was left out."""
        found = parted(self.traces.walls, self.words)
        ink = StoreyInk(strokes=self.traces.thin, swings=list(self.swings), words=list(self.words))
        storeys = [build_storey(part, ink, new_id, label) for part in found.storeys]
        left = [Skipped(what=one.what, count=one.walls, why=one.why) for one in found.left]
        return storeys or [
            ProposedStorey(label=label[:80] or "Drawing", walls=(), openings=(), spaces=())
        ], left

    def proposal(self, new_id: NewId, label: str) -> Proposal:
        """Return the building the picture shows."""
        storeys, left = self.storeys(new_id, label)
        notes: list[str] = []
        if not self.scale_known:
            notes.append("The picture has no scale yet: it is shown as if it were a usual house.")
            if max(self.upright.shape) < _SMALL_PX:
                high, wide = self.upright.shape
                notes.append(
                    f"It is small, {wide} by {high} pixels: of a larger one more words and lengths can be read."
                )
        if self.corners is not None:
            notes.append(
                "The sheet was straightened by its four corners. Drag them where they are not its corners."
            )
        if abs(self.turn_deg) >= 0.05:
            notes.append(f"The picture was turned by {self.turn_deg:.1f} degrees to stand straight.")
        for storey in storeys:
            notes += [note for note in sanity(storey) if note not in notes]
        left.append(
            Skipped(
                what="letters, furniture, hatching", count=1, why="too short, too thin or touching no wall"
            )
        )
        return Proposal(
            storeys=tuple(storeys), notes=tuple(notes), skipped=tuple(left), doubts=tuple(doubts_of(storeys))
        )


def read_scan(
    gray: Gray,
    asked: ReadingChoices,
    new_id: NewId,
    progress: Progress = quiet,
    paper_m_per_px: float | None = None,
) -> Scan:
    """Return what a grey picture, shape (height, width), shows.

    Nothing said of the scale takes the ink to be as long as a usual house; it is then to be set. `paper_m_per_px` is
    the size of a pixel on paper where the file says it, which a printed scale then makes one of the building.
    Raises NotAPicture when the corners that were said are none of a sheet.
    """
    progress(0.05, "looking for the sheet")
    corners = asked.corners or sheet_corners(gray)
    if corners is not None:
        gray, paper_m_per_px = _straight(gray, corners), None
    upright, turn, ink = _upright(gray, progress)
    progress(0.3, "reading words")
    ink, letters, drawing, scale = _lettered(upright, ink, asked, paper_m_per_px, progress)
    progress(0.6, "looking for strokes")
    made = _made(ink, scale, letters, progress)
    unwritten = asked.metres_per_unit is None and all(e.what == "treads" for e in scale.evidence)
    if unwritten and len(made.swings) >= _FEWEST_DOORS:
        # Leaves of doors are the best measure there is then, to a few percent.
        scale = _by_doors(scale, made.swings)
        made = _made(ink, scale, letters, quiet)
    clues = by_areas(areas_said(made.storeys(new_id, "")[0]), scale)
    if clues and asked.metres_per_unit is None:
        weighed = _scale(drawing, asked, tuple(clues), scale.per_unit)
        moved = abs(weighed.per_unit / scale.per_unit - 1) > 0.005
        made = _made(ink, weighed, letters, quiet) if moved else made
        scale = weighed
    sheet_px = (gray.shape[1], gray.shape[0])
    return Scan(upright, turn, scale, corners, made.traces, made.words, made.swings, sheet_px)


def _upright(gray: Gray, progress: Progress) -> tuple[Gray, float, Ink]:
    """Return a picture turned upright, by how much, and its ink."""
    progress(0.1, "evening out the paper")
    ink = ink_of(gray)
    progress(0.2, "straightening")
    turn = _turn_deg(ink.every)
    upright = _rotated(gray, turn)
    # Ink is told from paper again: turning black and white alone would leave steps in every line.
    return upright, turn, ink if upright is gray else ink_of(upright)


class _Lettered(NamedTuple):
    """A picture whose words are read: ink without them, the words, strokes to weigh the scale by, and the scale."""

    ink: Ink
    letters: list[Words]
    drawing: Drawing
    scale: Scale


def _lettered(
    upright: Gray, ink: Ink, asked: ReadingChoices, paper_m_per_px: float | None, progress: Progress
) -> _Lettered:
    """Return a picture with its words read, once more and closer where nothing in them said the scale."""

    def weighed(letters: list[Words]) -> _Lettered:
        clean = _without_letters(ink, letters)
        drawing = _measured(clean, letters, paper_m_per_px)
        scale = _scale(drawing, asked, (), _guess(clean.every) * ink.shrink)
        return _Lettered(clean, letters, drawing, scale)

    found = weighed(read_letters(upright))
    if not found.letters or found.scale.known:
        return found
    progress(0.5, "reading words once more, closer")
    return weighed(read_letters(upright, found.letters))


def _straight(gray: Gray, corners: Corners) -> Gray:
    try:
        return straightened(gray, corners)
    except ValueError as error:
        raise NotAPicture(str(error), "Drag the four corners to those of the sheet") from error


def _scale(drawing: Drawing, asked: ReadingChoices, more: tuple[Clue, ...], usual: float) -> Scale:
    found = scale_of(drawing, True, more)
    if asked.metres_per_unit is not None:
        return Scale(asked.metres_per_unit, "as you said", True, found.evidence)
    if not found.evidence:
        return Scale(usual, "pixels, scale not stated", False, ())
    return found


def _by_doors(scale: Scale, swings: Sequence[Arc]) -> Scale:
    usual = float(np.median([arc.r for arc in swings]))
    per_unit = scale.per_unit * USUAL_LEAF_M / usual
    says = f"middle one of {len(swings)} leaves taken for {USUAL_LEAF_M:.2f} m"
    shown = Evidence(what="doors", says=says, metres_per_unit=per_unit, agrees=True)
    return Scale(per_unit, "pixels, guessed by doors", False, (shown,))


def _measured(ink: Ink, letters: list[Words], paper_m_per_px: float | None) -> Drawing:
    """Return straight strokes and words of a picture as a drawing in its pixels, to weigh its scale by."""
    every, shrink = ink.every, ink.shrink
    drawing = Drawing(unit="pixels", paper_m_per_unit=paper_m_per_px)
    letter = float(np.median([w.height for w in letters] or [12.0])) * shrink
    least = max(10, round(1.2 * letter))
    thick: Gray = np.asarray(cv2.dilate(every, np.ones((3, 3), np.uint8)), np.uint8)
    for across in (False, True):
        for ends, stroke, _ in strokes(thick, least, across):
            drawing.line("strokes", *(n / shrink for n in ends))
            for tick in _ticks(
                every.T if across else every, _turned(ends) if across else ends, stroke, letter
            ):
                drawing.line("ticks", *(n / shrink for n in (_turned(tick) if across else tick)))
    for word in letters:
        drawing.text("Words", word.x, word.y, word.words, word.height)
    return drawing


def _turned(ends: Ends) -> Ends:
    return ends[1], ends[0], ends[3], ends[2]


def _ticks(ink: Gray, ends: Ends, stroke: float, letter: float) -> list[Ends]:
    """Return the short marks across a level line: where there is ink on both of its sides."""
    x0, y, x1 = int(ends[0]), round(ends[1]), int(ends[2])
    off = round(stroke / 2) + 2
    if not (off < y < ink.shape[0] - off - 1 and x1 - x0 > letter):
        return []
    low, high = max(0, x0 - off), min(ink.shape[1], x1 + off)
    wide = np.ones((1, 2 * off + 3), np.uint8)
    sides = [cv2.dilate(ink[row : row + 1, low:high], wide)[0] > 0 for row in (y - off, y + off)]
    both = np.flatnonzero(np.diff(np.r_[0, (sides[0] & sides[1]).astype(int), 0]))
    out = []
    for start, stop in zip(both[::2], both[1::2], strict=True):
        if stop - start < 2 * letter:
            x = low + (start + stop - 1) / 2
            out.append((float(x), y - letter / 2, float(x), y + letter / 2))
    return out


def _made(ink: Ink, scale: Scale, letters: list[Words], progress: Progress) -> Scan:
    cell_m = scale.per_unit / ink.shrink
    found = traces(ink.every, ink.strong, cell_m, progress)
    walls = [opened(ink.every, wall, cell_m) for wall in found.walls]
    swung = swings(ink.faint, walls, cell_m)
    found = replace(found, walls=walls, thin=np.vstack([found.thin, slides(ink.faint, walls, cell_m)]))
    words = tuple(
        Words(w.x * scale.per_unit, w.y * scale.per_unit, w.height * scale.per_unit, w.words) for w in letters
    )
    return Scan(ink.every, 0.0, scale, None, found, words, tuple(swung))


def _without_letters(ink: Ink, letters: list[Words]) -> Ink:
    """Return ink less the blots that lie within what was read as words."""
    if not letters:
        return ink
    every, shrink = ink.every, ink.shrink
    count, labels, stats, _ = cv2.connectedComponentsWithStats(every, connectivity=8)
    drop = np.zeros(count, bool)
    x0, y0, x1, y1 = (
        stats[:, cv2.CC_STAT_LEFT],
        stats[:, cv2.CC_STAT_TOP],
        *(
            stats[:, a] + stats[:, b]
            for a, b in ((cv2.CC_STAT_LEFT, cv2.CC_STAT_WIDTH), (cv2.CC_STAT_TOP, cv2.CC_STAT_HEIGHT))
        ),
    )
    for word in letters:
        high = word.height * shrink / 0.8
        wide = 0.62 * high * len(word.words) + high
        cx, cy = word.x * shrink, word.y * shrink
        drop |= (
            (x0 >= cx - wide / 2)
            & (x1 <= cx + wide / 2)
            & (y0 >= cy - 0.75 * high)
            & (y1 <= cy + 0.75 * high)
        )
    drop[0] = False
    left: Gray = np.asarray(np.where(drop[labels], 0, every), np.uint8)
    return ink._replace(every=left, strong=np.minimum(ink.strong, left))


def _turn_deg(ink: Gray) -> float:
    """Return how far the drawing is turned from the paper's edges, within 45 degrees.

    Seen along its own walls a plan's ink piles up in few rows: the turn is where the rows' squares
    sum highest, first by the degree, then by the fiftieth of one.
    """
    edges = cv2.morphologyEx(ink, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8))
    rows, columns = np.nonzero(edges)
    if not len(rows):
        return 0.0
    step = max(1, len(rows) // _TURN_SAMPLES)
    points = np.column_stack([columns[::step], rows[::step]]).astype(float)
    coarse = _best_turn(points, np.arange(-45, 45, 0.5), 3.0)
    close = _best_turn(points, coarse + np.arange(-0.6, 0.61, 0.1), 1.5)
    return _best_turn(points, close + np.arange(-0.1, 0.11, 0.02), 1.0)


def _best_turn(points: Floats, angles_deg: Floats, bin_px: float) -> float:
    scores = []
    for angle in np.radians(angles_deg):
        cos, sin = np.cos(angle), np.sin(angle)
        piled = 0.0
        for across in (points @ np.array([-sin, cos]), points @ np.array([cos, sin])):
            counts = np.bincount(((across - across.min()) / bin_px).astype(int)).astype(float)
            piled += float((counts**2).sum())
        scores.append(piled)
    return float(angles_deg[int(np.argmax(scores))])


def _rotated(image: Gray, turn_deg: float) -> Gray:
    """Return a picture turned upright, its canvas grown to hold all of it and its edges drawn on: they leave no step."""
    if abs(turn_deg) < 0.05:
        return image
    height, width = image.shape
    matrix = cv2.getRotationMatrix2D((width / 2, height / 2), turn_deg, 1.0)
    cos, sin = abs(matrix[0, 0]), abs(matrix[0, 1])
    new = int(np.ceil(height * sin + width * cos)), int(np.ceil(height * cos + width * sin))
    matrix[0, 2] += new[0] / 2 - width / 2
    matrix[1, 2] += new[1] / 2 - height / 2
    turned = cv2.warpAffine(image, matrix, new, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(turned, np.uint8)


def _guess(ink: Gray) -> float:
    """Return metres per working pixel if the drawing were as long as a usual house."""
    found = cv2.findNonZero(ink)
    if found is None:
        return _USUAL_LENGTH_M / max(ink.shape)
    _, _, width, height = cv2.boundingRect(found)
    return _USUAL_LENGTH_M / max(width, height, 1)
