"""A drawing of runs as DXF and SVG: the strokes, signs and words of the paper, in metres."""

import io
from xml.etree import ElementTree

from heathrise.exchange.paper.drawn import LAYERS, Drawn, Legend, Sign
from heathrise.exchange.words import svg_text

_SIGN_M = 0.18
_TEXT_M, _SMALL_M = 0.25, 0.18
_MARGIN_M = 1.5
_LEGEND_M = 2.0


def drawn_dxf(drawn: Drawn) -> str:
    """Return a drawing as DXF in metres, y up, each kind on a named layer."""
    # Loaded when asked for: it takes much memory, and most days nobody asks.
    from ezdxf import units  # noqa: PLC0415
    from ezdxf.filemanagement import new  # noqa: PLC0415

    document = new("R2010", units=units.M)
    for name, layer in LAYERS.items():
        document.layers.add(name, color=layer.dxf_colour)
    space = document.modelspace()
    for stroke in drawn.strokes:
        places = [(x, -y) for x, y in stroke.points]
        space.add_lwpolyline(places, close=stroke.closed, dxfattribs={"layer": stroke.layer})
    for sign in drawn.signs:
        at = (sign.at[0], -sign.at[1])
        space.add_circle(at, _SIGN_M, dxfattribs={"layer": sign.layer})
    for words in drawn.words:
        height = _SMALL_M if words.small else _TEXT_M
        insert = (words.at[0] + _SIGN_M, -words.at[1])
        space.add_text(words.text, height=height, dxfattribs={"layer": words.layer, "insert": insert})
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def drawn_svg(drawn: Drawn, title: str) -> str:
    """Return a drawing as SVG, one user unit a metre, groups by kind."""
    x0, y0, x1, y1 = drawn.box
    foot_m = _LEGEND_M if drawn.legend else 0.0
    wide, tall = x1 - x0 + 2 * _MARGIN_M, y1 - y0 + 2 * _MARGIN_M + foot_m
    root = ElementTree.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"{x0 - _MARGIN_M:.2f} {y0 - _MARGIN_M:.2f} {wide:.2f} {tall:.2f}",
        width=f"{wide * 10:.1f}mm",
        height=f"{tall * 10:.1f}mm",
    )
    ElementTree.SubElement(root, "title").text = title
    for fill in drawn.fills:
        d = "".join("M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in ring) + "Z" for ring in fill.rings)
        ElementTree.SubElement(root, "path", {"d": d, "fill": fill.ink, "fill-rule": "evenodd"})
    groups = {
        name: ElementTree.SubElement(root, "g", id=name, fill="none", stroke=layer.ink)
        for name, layer in LAYERS.items()
    }
    for stroke in drawn.strokes:
        layer = LAYERS[stroke.layer]
        d = "L".join(f"{x:.3f} {y:.3f}" for x, y in stroke.points)
        # On paper a metre of it is 10 mm: strokes keep the width they have there.
        style = {"d": f"M{d}{'Z' if stroke.closed else ''}"}
        style["stroke-width"] = f"{(layer.width_mm + 0.06 * min(stroke.many - 1, 20)) / 10:.3f}"
        if layer.dashes_mm:
            style["stroke-dasharray"] = " ".join(f"{dash / 10:g}" for dash in layer.dashes_mm)
        ElementTree.SubElement(groups[stroke.layer], "path", style)
    for sign in drawn.signs:
        _svg_sign(groups[sign.layer], sign)
    if drawn.legend:
        _svg_legend(root, drawn.legend, x0, y1 + _MARGIN_M)
    for words in drawn.words:
        style = {
            "x": f"{words.at[0] + _SIGN_M:.3f}",
            "y": f"{words.at[1]:.3f}",
            "font-size": f"{_SMALL_M if words.small else _TEXT_M:g}",
            "font-family": "Atkinson Hyperlegible Next, sans-serif",
            "fill": LAYERS[words.layer].ink,
            "stroke": "none",
        }
        ElementTree.SubElement(groups[words.layer], "text", style).text = words.text
    return svg_text(root)


def _svg_legend(root: ElementTree.Element, legend: Legend, x: float, y: float) -> None:
    """Draw the tints in a row below the drawing, the figures between them, and the words that say what they are."""
    for n, ink in enumerate(legend.inks):
        style = {"x": f"{x + n * 1.4:.2f}", "y": f"{y:.2f}", "width": "1.4", "height": "0.4", "fill": ink}
        ElementTree.SubElement(root, "rect", style)
    texts = [(x + n * 1.4, y + 0.75, text, "middle") for n, text in enumerate(legend.figures, start=1)]
    for left, top, text, anchor in (*texts, (x, y + 1.4, legend.words, "start")):
        style = {
            "x": f"{left:.2f}",
            "y": f"{top:.2f}",
            "font-size": f"{_TEXT_M:g}",
            "font-family": "Atkinson Hyperlegible Next, sans-serif",
            "text-anchor": anchor,
            "fill": LAYERS["HR-WALL"].ink,
        }
        ElementTree.SubElement(root, "text", style).text = text


def _svg_sign(group: ElementTree.Element, sign: Sign) -> None:
    style = {
        "cx": f"{sign.at[0]:.3f}",
        "cy": f"{sign.at[1]:.3f}",
        "r": f"{_SIGN_M / 2 if sign.sign == 'hole' else _SIGN_M:g}",
        "stroke-width": "0.04",
    }
    ElementTree.SubElement(group, "circle", style)
