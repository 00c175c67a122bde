"""Words that somebody typed or sent, as a file or a heading can carry them."""

import re
from xml.etree import ElementTree

# What XML 1.0 has no way to write (clause 2.2).
_UNWRITABLE = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
_CONTROLS = re.compile(r"[\x00-\x1f\x7f\u0085\u2028\u2029]+")


def one_line(words: str, otherwise: str, most: int = 200) -> str:
    """Return words in one line without control characters, or other ones when nothing is left."""
    return _CONTROLS.sub(" ", words.encode("utf-8", "replace").decode()).strip()[:most].strip() or otherwise


def svg_text(root: ElementTree.Element) -> str:
    """Return an SVG document's text, without characters that no XML can carry."""
    plain = _UNWRITABLE.sub("", ElementTree.tostring(root, encoding="unicode"))
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{plain}\n'
