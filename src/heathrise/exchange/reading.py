"""Any drawing in: tell what a file is, read it, and propose a building from it."""

from collections import Counter

import numpy as np
from PIL import Image, ImageOps

from heathrise.core.site.carrying import carried
from heathrise.core.site.clues import Clue
from heathrise.core.site.doubting import doubts_of
from heathrise.core.site.drawing import Drawing
from heathrise.core.site.parts import laid_over
from heathrise.core.site.proposal import Proposal, ProposedStorey, Skipped
from heathrise.core.site.roles import roles_of
from heathrise.core.site.scaling import Scale, by_areas, scale_of
from heathrise.core.site.sketch import STOREY_M, NewId, areas_said, propose
from heathrise.core.site.tracing import Traced
from heathrise.core.sums import Noun
from heathrise.exchange.dxf import read_dxf
from heathrise.exchange.geojson import read_geojson
from heathrise.exchange.ifc import read_ifc
from heathrise.exchange.kinds import kind_of
from heathrise.exchange.pictures import open_picture, paper_m_per_px, png_of
from heathrise.exchange.readings import FileKind, Reading, ReadingChoices
from heathrise.exchange.scans import read_scan
from heathrise.exchange.svgplan import read_svg
from heathrise.exchange.unreadable import NotAPicture, Progress, Unreadable, quiet
from heathrise.exchange.vectorpdf import FEWEST_LINES, read_vector_pdf

# More pages than these are not looked through for plans unasked; a person can ask for any.
_MOST_PAGES = 12
_PAPER: tuple[FileKind, ...] = ("pdf", "svg", "picture")


class ReadFile(Noun):
    """A reading, with the straightened picture where there is one."""

    reading: Reading
    png: bytes | None = None


def read_file(
    body: bytes, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress = quiet
) -> ReadFile:
    """Return what a file shows, by what a person said of it.

    Raises
    ------
    Unreadable, NotAPicture
        If it cannot be used; the message says why and what to send.
    """
    kind = kind_of(body)
    if kind == "ifc":
        proposal = read_ifc(body, new_id, progress)
        return ReadFile(
            reading=Reading(
                kind=kind, unit="metres", metres_per_unit=1.0, scale_known=True, layers=(), proposal=proposal
            )
        )
    if kind == "picture":
        return _picture(body, asked, new_id, label, progress)
    if kind == "pdf":
        return _pdf(body, asked, new_id, label, progress)
    readers = {"dxf": read_dxf, "svg": read_svg, "geojson": read_geojson}
    return _drawing(kind, readers[kind](body, progress), asked, new_id, label, progress)


def known_again(before: Reading, after: Reading) -> Reading:
    """Return a reading of a file in which what an earlier reading of it showed has the ids it had there."""
    if before.page != after.page or before.metres_per_unit is None or after.metres_per_unit is None:
        return after
    factor = before.metres_per_unit / after.metres_per_unit
    return after.model_copy(update={"proposal": carried(before.proposal, after.proposal, factor)})


def _drawing(
    kind: FileKind,
    drawing: Drawing,
    asked: ReadingChoices,
    new_id: NewId,
    label: str,
    progress: Progress,
    more: tuple[Clue, ...] = (),
) -> ReadFile:
    """Return what strokes show: the scale is weighed, rooms are found by it, and what is written in them weighs too."""
    if drawing.empty:
        raise Unreadable(
            "the drawing holds no line that can be read",
            "Explode its blocks and references, or print it to PDF, and send that",
        )
    progress(0.7, "weighing the scale")
    scale = _scale(kind, drawing, asked, more)
    progress(0.75, "finding walls")
    before = drawing.skipped
    for again in (True, False):
        drawing.skipped = Counter(before)
        layers = roles_of(drawing, asked.roles, scale.per_unit)
        proposal = propose(drawing, {row.name: row.role for row in layers}, scale.per_unit, new_id, label)
        clues = by_areas(areas_said(proposal.storeys), scale)
        if not clues or not again or asked.metres_per_unit is not None:
            break
        weighed = _scale(kind, drawing, asked, (*more, *clues))
        done = abs(weighed.per_unit / scale.per_unit - 1) < 0.005
        scale = weighed
        if done:
            break
        progress(0.85, "finding walls again, at the scale its rooms tell")
    reading = Reading(
        kind=kind,
        unit=scale.unit,
        metres_per_unit=scale.per_unit,
        scale_known=scale.known,
        layers=layers,
        proposal=proposal,
        evidence=scale.evidence,
        pages=drawing.pages,
        page=asked.page,
    )
    return ReadFile(reading=reading)


def _scale(kind: FileKind, drawing: Drawing, asked: ReadingChoices, more: tuple[Clue, ...]) -> Scale:
    found = scale_of(drawing, kind in _PAPER, more)
    if asked.metres_per_unit is None:
        return found
    return Scale(asked.metres_per_unit, "as you said", True, found.evidence)


def _pdf(body: bytes, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress) -> ReadFile:
    """Return what a PDF shows: one page that was asked for, or every page that holds a plan as a storey."""
    first = read_vector_pdf(body, asked.page or 1, progress, asked.password)
    if asked.page or first.pages == 1:
        if len(first.lines) + len(first.arcs) < FEWEST_LINES:
            return _picture(body, asked, new_id, label, progress)
        return _drawing("pdf", first, asked, new_id, label, progress)
    drawings = [first]
    for page in range(2, min(first.pages, _MOST_PAGES) + 1):
        progress(0.1 + 0.4 * page / first.pages, f"reading page {page} of {first.pages}")
        drawings.append(read_vector_pdf(body, page, quiet, asked.password))
    read: list[tuple[int, Reading]] = []
    skipped: list[Skipped] = []
    for page, drawing in enumerate(drawings, start=1):
        if len(drawing.lines) + len(drawing.arcs) < FEWEST_LINES:
            skipped.append(
                Skipped(what=f"page {page}", count=1, why="it is a picture or text; choose it to read it")
            )
            continue
        progress(0.5 + 0.4 * page / len(drawings), f"finding walls on page {page}")
        found = _drawing("pdf", drawing, asked, new_id, f"{label}, page {page}", quiet).reading
        if any(storey.spaces for storey in found.proposal.storeys):
            read.append((page, found))
        else:
            skipped.append(Skipped(what=f"page {page}", count=1, why="no room was found on it: no plan"))
    if first.pages > _MOST_PAGES:
        skipped.append(
            Skipped(
                what=f"pages from {_MOST_PAGES + 1}",
                count=first.pages - _MOST_PAGES,
                why="choose one to read it",
            )
        )
    if not read:
        return _picture(body, asked.model_copy(update={"page": 1}), new_id, label, progress)
    return ReadFile(reading=_pages_joined(read, skipped))


def _pages_joined(read: list[tuple[int, Reading]], skipped: list[Skipped]) -> Reading:
    """Return readings of pages as one: each page a storey by its title, else upwards in their order."""
    first = next((reading for _, reading in read if reading.scale_known), read[0][1])
    storeys: list[ProposedStorey] = []
    notes: list[str] = []
    taken: dict[float, int] = {}
    free = 0.0
    many = len(read) > 1
    for page, reading in read:
        notes += [note for note in reading.proposal.notes if note not in notes]
        for storey in reading.proposal.storeys:
            level = _raised(storey) if many else storey.elevation_m
            sure = level is not None
            if level is None and many:
                while free in taken:
                    free += STOREY_M
                level = free
            if level is not None and level in taken:
                skipped.append(
                    Skipped(
                        what=f"{storey.label} on page {page}",
                        count=len(storey.walls),
                        why=f"the same storey as on page {taken[level]}; choose the page to read it",
                    )
                )
                continue
            if level is not None:
                taken[level] = page
            moved = _over(storey, storeys[0]) if storeys else storey
            storeys.append(
                moved.model_copy(
                    update={
                        "elevation_m": level,
                        "height_m": storey.height_m or (STOREY_M if level is not None else None),
                        "certainty": storey.certainty if sure else 0.5,
                        "why": storey.why
                        or ("by its title" if sure else f"by its place in the file, page {page}"),
                    }
                )
            )
    storeys.sort(key=lambda s: s.elevation_m or 0.0)
    proposal = Proposal(
        storeys=tuple(storeys),
        notes=tuple(notes),
        skipped=(*skipped, *first.proposal.skipped),
        doubts=tuple(doubts_of(storeys)),
    )
    return first.model_copy(update={"proposal": proposal, "page": 0})


def _raised(storey: ProposedStorey) -> float | None:
    """Return how high a storey lies by its title or where it lies on its sheet, None where nothing tells."""
    if storey.elevation_m is not None:
        return storey.elevation_m
    return None if storey.level is None else storey.level * STOREY_M


def _over(storey: ProposedStorey, lower: ProposedStorey) -> ProposedStorey:
    """Return a storey moved to where most of its walls lie over another's."""

    def traced(one: ProposedStorey) -> list[Traced]:
        return [Traced((w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m), w.thickness_m) for w in one.walls]

    dx, dy = laid_over(traced(storey), traced(lower))
    return storey.moved(dx, dy)


def _picture(body: bytes, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress) -> ReadFile:
    image, pages = open_picture(body, asked.megapixels, asked.page or 1, asked.password)
    if min(image.size) < 40:
        raise NotAPicture(
            f"the picture is {image.width} by {image.height} pixels; no wall can be seen in it",
            "Send a larger one",
        )
    gray = np.asarray(ImageOps.grayscale(image))
    scan = read_scan(gray, asked, new_id, progress, paper_m_per_px(body))
    proposal = scan.proposal(new_id, label)
    height, width = scan.upright.shape
    reading = Reading(
        kind="picture",
        unit=scan.scale.unit,
        metres_per_unit=scan.metres_per_px,
        scale_known=scan.scale_known,
        layers=(),
        proposal=proposal,
        evidence=scan.evidence,
        pages=pages,
        page=asked.page or 1,
        turn_deg=round(scan.turn_deg, 2),
        picture_px=(width, height),
        sheet_px=scan.sheet_px,
        corners=scan.corners,
    )
    return ReadFile(reading=reading, png=png_of(Image.fromarray(scan.upright)))
