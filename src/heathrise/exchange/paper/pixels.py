"""A sheet of paper as pixels: the PDF's first page, drawn."""

import io

_DPI = 150


def first_page_png(pdf: bytes) -> bytes:
    """Return the first page of a PDF that was written here as a PNG of 150 dpi."""
    # Loaded when asked for: it takes memory, and most days nobody asks.
    import pypdfium2 as pdfium  # noqa: PLC0415

    document = pdfium.PdfDocument(pdf)
    try:
        image = document[0].render(scale=_DPI / 72).to_pil().convert("RGB")
    finally:
        document.close()
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(_DPI, _DPI))
    return out.getvalue()
