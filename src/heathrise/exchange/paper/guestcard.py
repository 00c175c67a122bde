"""The card of a name on the air: what it is called, its passphrase, and both as a code that a phone reads.

The text of the code is the form phones agree on: WIFI:T:type;S:name;P:passphrase;; with a backslash before what has
a meaning of its own.
"""

import io

from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from heathrise.core.job import Ssid
from heathrise.exchange.paper.codes import code
from heathrise.exchange.paper.inks import FACES, INK, QUIET, faces

_WIDE_MM, _HIGH_MM, _EDGE_MM, _CODE_MM = 148.0, 105.0, 10.0, 58.0
_OWN_MEANING = '\\;,:"'


def code_text(ssid: Ssid, passphrase: str) -> str:
    """Return the text of a name's code."""
    kind = "nopass" if not passphrase else ("SAE" if ssid.security == "wpa3" else "WPA")
    hidden = "H:true;" if ssid.hidden else ""
    secret = f"P:{_plain(passphrase)};" if passphrase else ""
    return f"WIFI:T:{kind};S:{_plain(ssid.label)};{secret}{hidden};"


def _plain(text: str) -> str:
    return "".join(f"\\{c}" if c in _OWN_MEANING else c for c in text)


def guest_card(job: str, ssid: Ssid, passphrase: str, client_mbps: int | None) -> bytes:
    """Return the card as PDF, one page of A6 across."""
    faces()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=(_WIDE_MM * mm, _HIGH_MM * mm))
    canvas.setTitle(f"{ssid.label}: card")
    code(canvas, code_text(ssid, passphrase), _EDGE_MM, (_HIGH_MM - _CODE_MM) / 2, _CODE_MM)
    _words(canvas, job, ssid, passphrase, client_mbps)
    canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _words(canvas: Canvas, job: str, ssid: Ssid, passphrase: str, client_mbps: int | None) -> None:
    left, room = _EDGE_MM + _CODE_MM + 8, _WIDE_MM - 2 * _EDGE_MM - _CODE_MM - 8
    lines = [(QUIET, FACES[0], 10, job), (QUIET, FACES[0], 10, "Join"), (INK, FACES[1], 20, ssid.label)]
    if passphrase:
        lines += [(QUIET, FACES[0], 10, "Passphrase"), (INK, FACES[2], 17, passphrase)]
    else:
        lines.append((QUIET, FACES[0], 10, "No passphrase is asked for."))
    if client_mbps:
        lines.append((QUIET, FACES[0], 9, f"Up to {client_mbps} Mb/s each"))
    lines.append((QUIET, FACES[0], 9, "Hold a camera to the code, or type it."))
    y = _HIGH_MM - 24.0
    for ink, face, size, text in lines:
        canvas.setFillColor(ink)
        wide = pdfmetrics.stringWidth(text, face, size)
        fitted = min(size, size * room * mm / wide) if wide else size
        canvas.setFont(face, fitted)
        canvas.drawString(left * mm, y * mm, text)
        y -= size * 0.42 + 3.2
