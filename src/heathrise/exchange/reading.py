"""Any drawing in: tell what a file is, read it, and propose a building from it."""

import numpy as np
from PIL import Image, ImageOps

from heathrise.core.site.proposal import Proposal, Skipped
from heathrise.core.site.sketch import Drawing, NewId, build_storey, propose, sanity
from heathrise.core.sums import Noun
from heathrise.exchange.dxf import read_dxf
from heathrise.exchange.geojson import read_geojson
from heathrise.exchange.ifc import read_ifc
from heathrise.exchange.pictures import open_picture, png_of
from heathrise.exchange.readings import FileKind, Reading, ReadingChoices
from heathrise.exchange.scans import read_scan
from heathrise.exchange.svgplan import read_svg
from heathrise.exchange.unreadable import NotAPicture, Progress, Unreadable, quiet
from heathrise.exchange.vectorpdf import FEWEST_LINES, read_vector_pdf

# Millimetres are what plans without a unit are most often drawn in.
_USUAL = (
    (3000.0, 0.001, "millimetres, guessed"),
    (400.0, 0.01, "centimetres, guessed"),
    (0.0, 1.0, "metres, guessed"),
)
_PRINTED_GUESS = 100
_POINT_M = 0.0254 / 72


class ReadFile(Noun):
    """A reading, with the straightened picture where there is one."""

    reading: Reading
    png: bytes | None = None


def kind_of(body: bytes) -> FileKind:
    """Return what a file is by its content. Raises Unreadable when it is none of ours."""
    head = body[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff")):
        return "picture"
    if head.startswith(b"%PDF-"):
        return "pdf"
    if head.startswith(b"ISO-10303-21"):
        return "ifc"
    if head.startswith(b"PK\x03\x04"):
        raise Unreadable("the file is a packed archive", "Unpack it and send the drawing inside")
    if head.startswith(b"{"):
        return "geojson"
    if b"<svg" in head:
        return "svg"
    if head.startswith(b"AC10"):
        raise Unreadable(
            "the file is a binary CAD drawing of a closed format", "Save it as DXF and send that"
        )
    words = [line.strip() for line in head[:400].splitlines()]
    if head.startswith(b"AutoCAD Binary DXF") or b"SECTION" in words or words[:1] == [b"999"]:
        return "dxf"
    raise Unreadable(
        "the file is none of DXF, IFC, PDF, SVG, GeoJSON, PNG or JPEG", "Save the drawing as one of these"
    )


def read_file(
    body: bytes, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress = quiet
) -> ReadFile:
    """Return what a file shows, by what a person said of it.

    Raises
    ------
    Unreadable, NotAPicture
        If it cannot be used; the message says why and what to send.
    """
    if not body:
        raise Unreadable("the file is empty", "Save the drawing again and send that")
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
        drawing = read_vector_pdf(body, asked.page, progress)
        if len(drawing.lines) < FEWEST_LINES:
            return _picture(body, asked, new_id, label, progress)
        found = _drawing(kind, drawing, asked, new_id, label, progress)
        return ReadFile(reading=found.reading.model_copy(update={"pages": drawing.pages}))
    readers = {"dxf": read_dxf, "svg": read_svg, "geojson": read_geojson}
    return _drawing(kind, readers[kind](body, progress), asked, new_id, label, progress)


def _drawing(
    kind: FileKind, drawing: Drawing, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress
) -> ReadFile:
    if not drawing.lines:
        raise Unreadable(
            "the drawing holds no line that can be read",
            "Explode its blocks and references, or print it to PDF, and send that",
        )
    progress(0.75, "finding walls")
    layers = drawing.layers(asked.roles)
    known = drawing.metres_per_unit is not None or asked.metres_per_unit is not None
    per_unit, unit = _unit(kind, drawing, asked)
    proposal = propose(drawing, {row.name: row.role for row in layers}, per_unit, new_id, label)
    reading = Reading(
        kind=kind, unit=unit, metres_per_unit=per_unit, scale_known=known, layers=layers, proposal=proposal
    )
    return ReadFile(reading=reading)


def _unit(kind: FileKind, drawing: Drawing, asked: ReadingChoices) -> tuple[float, str]:
    if asked.metres_per_unit is not None:
        return asked.metres_per_unit, "as you said"
    if drawing.metres_per_unit is not None:
        return drawing.metres_per_unit, drawing.unit
    if kind == "pdf":
        return _POINT_M * _PRINTED_GUESS, f"points, taken for 1:{_PRINTED_GUESS}"
    span = float(np.ptp(np.array(drawing.lines, float).reshape(-1, 2), axis=0).max())
    return next((per, unit) for least, per, unit in _USUAL if span > least)


def _picture(body: bytes, asked: ReadingChoices, new_id: NewId, label: str, progress: Progress) -> ReadFile:
    image, pages = open_picture(body, asked.megapixels, asked.page)
    if min(image.size) < 40:
        raise NotAPicture(
            f"the picture is {image.width} by {image.height} pixels; no wall can be seen in it",
            "Send a larger one",
        )
    gray = np.asarray(ImageOps.grayscale(image))
    scan = read_scan(gray, asked.metres_per_unit, progress)
    storey = build_storey(scan.walls, (), np.empty((0, 4)), (), new_id, label)
    notes = (
        [] if scan.scale_known else ["The picture has no scale yet: it is shown as if it were a usual house."]
    )
    if abs(scan.turn_deg) >= 0.05:
        notes.append(f"The picture was turned by {scan.turn_deg:.1f} degrees to stand straight.")
    notes += sanity(storey)
    skipped = (
        Skipped(what="letters, furniture, hatching", count=1, why="too short, too thin or touching no wall"),
    )
    height, width = scan.upright.shape
    reading = Reading(
        kind="picture",
        unit="pixels",
        metres_per_unit=scan.metres_per_px,
        scale_known=scan.scale_known,
        layers=(),
        proposal=Proposal(storeys=(storey,), notes=tuple(notes), skipped=skipped),
        pages=pages,
        turn_deg=round(scan.turn_deg, 2),
        picture_px=(width, height),
    )
    return ReadFile(reading=reading, png=png_of(Image.fromarray(scan.upright)))
