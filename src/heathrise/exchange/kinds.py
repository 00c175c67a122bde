"""What a file is by its content. Light: whoever takes files in asks before anything is read."""

from heathrise.exchange.readings import FileKind
from heathrise.exchange.unreadable import Unreadable

_KINDS = "DXF, IFC, PDF, SVG, GeoJSON, PNG or JPEG"


def kind_of(body: bytes) -> FileKind:
    """Return what a drawing is by its content. Raises Unreadable when it is empty or none of ours."""
    if not body:
        raise Unreadable("the file is empty", "Save the drawing again and send that")
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
    raise Unreadable(f"the file is none of {_KINDS}", "Save the drawing as one of these")
