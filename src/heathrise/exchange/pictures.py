"""Floor-plan pictures: checked by their content, bounded, and encoded again before they are kept."""

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps

from heathrise.exchange.unreadable import LOCKED, NotAPicture

_PDF_DPI = 150
_SCANNED_DPI = 100
_MEGAPIXEL = 1_000_000
_MOST_SIDE_PX = 30_000
# Line drawings pack nearly as small at the quickest level, in a fifth of the time.
_PNG_LEVEL = 1
_PHOTO_SIDE_PX = 1600
_PHOTO_QUALITY = 82


@dataclass(frozen=True)
class Picture:
    """A PNG that was made here."""

    png: bytes
    width_px: int
    height_px: int
    pages: int


def read_picture(body: bytes, megapixels: int, page: int = 1) -> Picture:
    """Return an upload (PNG, JPEG or one page of a PDF) as a PNG.

    Raises
    ------
    NotAPicture
        As `open_picture`.
    """
    image, pages = open_picture(body, megapixels, page)
    return Picture(png_of(image), image.width, image.height, pages)


@dataclass(frozen=True)
class Photograph:
    """A JPEG that was made here, without what the camera wrote into it: place, device, owner."""

    jpeg: bytes
    width_px: int
    height_px: int


def read_photo(body: bytes, megapixels: int) -> Photograph:
    """Return a photograph upright and no larger than is looked at. Raises NotAPicture as `open_picture`."""
    image, _ = open_picture(body, megapixels)
    image.thumbnail((_PHOTO_SIDE_PX, _PHOTO_SIDE_PX))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=_PHOTO_QUALITY)
    return Photograph(out.getvalue(), image.width, image.height)


def open_picture(body: bytes, megapixels: int, page: int = 1, password: str = "") -> tuple[Image.Image, int]:
    """Return an upload (PNG, JPEG or one page of a PDF) as an image, and how many pages it has.

    Raises
    ------
    NotAPicture
        If it is of another kind, broken, has no such page, or has more pixels than allowed.
    """
    if body.startswith(b"%PDF-"):
        return _from_pdf(body, megapixels, page, password)
    if body.startswith((b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff")):
        return _from_image(body, megapixels), 1
    raise NotAPicture("the file is neither PNG, JPEG nor PDF", "Send one of these")


def _check_size(width: int, height: int, megapixels: int) -> None:
    if max(width, height) > _MOST_SIDE_PX:
        raise NotAPicture(
            f"the picture is {width} by {height} pixels; {_MOST_SIDE_PX} is the most along a side",
            "Cut it to the plan",
        )
    if width * height > megapixels * _MEGAPIXEL:
        raise NotAPicture(
            f"the picture has {width * height / _MEGAPIXEL:.1f} megapixels; {megapixels} is the most",
            "Send a smaller one: half the size in each direction is a quarter of the pixels",
        )


def _from_image(body: bytes, megapixels: int) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            opened = Image.open(io.BytesIO(body), formats=("PNG", "JPEG"))
        _check_size(opened.width, opened.height, megapixels)
        return ImageOps.exif_transpose(opened).convert("RGB")
    except NotAPicture:
        raise
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise NotAPicture(f"the picture cannot be read: {error}", "Save it again and send that") from error


def _from_pdf(body: bytes, megapixels: int, page: int, password: str) -> tuple[Image.Image, int]:
    # Loaded when a PDF comes: most pictures are none.
    import pypdfium2 as pdfium  # noqa: PLC0415

    try:
        document = pdfium.PdfDocument(body, password=password or None)
    except pdfium.PdfiumError as error:
        if "password" in str(error).lower():
            raise NotAPicture(LOCKED, "Type its password, or print it to a new PDF without one") from error
        raise NotAPicture(
            f"the PDF cannot be read: {error}", "Print it to a new PDF, without a password, and send that"
        ) from error
    try:
        pages = len(document)
        if pages == 0:
            raise NotAPicture("the PDF has no pages", "Print the drawing to a new PDF and send that")
        if not 1 <= page <= pages:
            raise NotAPicture(
                f"the PDF has {pages} pages; page {page} is not one of them", "Choose another page"
            )
        sheet = document[page - 1]
        width, height = sheet.get_size()
        scale = _PDF_DPI / 72
        _check_size(round(width * scale), round(height * scale), megapixels)
        image = sheet.render(scale=scale).to_pil().convert("RGB")
    except pdfium.PdfiumError as error:
        raise NotAPicture(
            "the page cannot be read: it is damaged", "Print it to a new PDF and send that"
        ) from error
    finally:
        document.close()
    return image, pages


def paper_m_per_px(body: bytes) -> float | None:
    """Return how large a pixel is on paper: as a page is shown here, or as a scanner said. Screens say 72 or 96 of anything."""
    if body.startswith(b"%PDF-"):
        return 0.0254 / _PDF_DPI
    with Image.open(io.BytesIO(body)) as opened:
        dpi = opened.info.get("dpi", (0, 0))
    across, down = float(dpi[0]), float(dpi[1])
    return 0.0254 / across if across >= _SCANNED_DPI and abs(across - down) < 1 else None


def png_of(image: Image.Image) -> bytes:
    """Return an image as a PNG."""
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=_PNG_LEVEL)
    return out.getvalue()
