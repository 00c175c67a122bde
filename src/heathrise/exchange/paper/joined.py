"""Papers joined into one PDF, each under its title in the outline."""

import io
from collections.abc import Sequence

from heathrise.exchange.unreadable import Unreadable


def joined(papers: Sequence[bytes]) -> bytes:
    """Return papers as one, in their order. Raises Unreadable for what is no PDF."""
    # Loaded when papers are joined: the process that answers need not.
    import pypdfium2 as pdfium  # noqa: PLC0415

    whole = pdfium.PdfDocument.new()
    try:
        for body in papers:
            try:
                part = pdfium.PdfDocument(body)
            except pdfium.PdfiumError as error:
                raise Unreadable(
                    f"a paper of the set cannot be read: {error}", "Make the set again"
                ) from error
            whole.import_pages(part)
            part.close()
        out = io.BytesIO()
        whole.save(out)
    finally:
        whole.close()
    return out.getvalue()
