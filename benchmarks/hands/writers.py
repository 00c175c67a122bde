"""Files of strokes: raw DXF groups, PDF operators, SVG text and pictures, each by its own hand."""

import io
import math
import zlib
from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise

import cv2
import numpy as np
from PIL import Image, ImageDraw, ImageFilter, ImageFont

from benchmarks.hands.strokes import Stroke

Pens = Mapping[str, str]


def dxf(
    drawn: Sequence[Stroke],
    layers: Pens,
    unit: float = 1000.0,
    insunits: int | None = None,
    polylines: bool = False,
    header: str = "AC1015",
    flags: Mapping[str, int] | None = None,
    measured: bool = True,
    encode: str = "cp1252",
) -> bytes:
    """Write groups by hand. `flags` are layer flags (1 frozen) or a colour below 0 (off); doors may be polylines."""
    out = ["0", "SECTION", "2", "HEADER", "9", "$ACADVER", "1", header, "9", "$DWGCODEPAGE", "3", "ANSI_1252"]
    if insunits is not None:
        out += ["9", "$INSUNITS", "70", str(insunits)]
    out += ["0", "ENDSEC", "0", "SECTION", "2", "TABLES", "0", "TABLE", "2", "LAYER", "70", "20"]
    for name in sorted(set(layers.values())):
        flag = (flags or {}).get(name, 0)
        out += [
            "0",
            "LAYER",
            "2",
            name,
            "70",
            str(max(flag, 0)),
            "62",
            "-7" if flag < 0 else "7",
            "6",
            "CONTINUOUS",
        ]
    out += ["0", "ENDTAB", "0", "ENDSEC", "0", "SECTION", "2", "ENTITIES"]
    for pen, kind, data in drawn:
        layer = layers.get(pen, pen)
        if kind == "line":
            out += groups(
                "LINE",
                layer,
                *_xy(10, data[0] * unit, data[1] * unit),
                *_xy(11, data[2] * unit, data[3] * unit),
            )
        elif kind == "arc" and polylines:
            out += _bulged(layer, data, unit)
        elif kind == "arc":
            x, y, r, a, b = data
            out += groups(
                "ARC", layer, *_xy(10, x * unit, y * unit), (40, r * unit), (50, a % 360), (51, b % 360)
            )
        elif kind == "round":
            out += groups("CIRCLE", layer, *_xy(10, data[0] * unit, data[1] * unit), (40, data[2] * unit))
        elif kind == "fill":
            for ring in data:
                out += _ring(layer, ring, unit)
        elif kind == "text":
            out += text(layer, *data, unit)
        elif kind == "measure":
            out += _dimension(layer, data, unit) if measured else _ticked(layer, data, unit)
    out += ["0", "ENDSEC", "0", "EOF", ""]
    text_ = "\n".join(out)
    # What a code page lacks is written by its number, as older releases do.
    return b"".join(_coded(c, encode) for c in text_)


def _coded(letter: str, encode: str) -> bytes:
    try:
        return letter.encode(encode)
    except UnicodeEncodeError:
        return f"\\U+{ord(letter):04X}".encode()


# What newer releases want said of these.
_MARKERS = {"LWPOLYLINE": ["AcDbPolyline"], "DIMENSION": ["AcDbDimension"]}


def groups(kind: str, layer: str, *pairs: tuple[int, object]) -> list[str]:
    out = ["0", kind, "8", layer]
    if kind in _MARKERS:
        out = ["0", kind, "100", "AcDbEntity", "8", layer, "100", *_MARKERS[kind]]
    for code, value in pairs:
        out += [str(code), f"{value:.6f}" if isinstance(value, float) else str(value)]
    return out


def _xy(code: int, x: float, y: float) -> tuple:
    return ((code, float(x)), (code + 10, float(y)), (code + 20, 0.0))


def _ring(layer, ring, unit) -> list[str]:
    points = ring[:-1]
    out = groups("LWPOLYLINE", layer, (90, len(points)), (70, 1))
    for x, y in points:
        out += ["10", f"{x * unit:.4f}", "20", f"{y * unit:.4f}"]
    return out


def _bulged(layer, data, unit) -> list[str]:
    x, y, r, a, b = data
    out = groups("LWPOLYLINE", layer, (90, 2), (70, 0))
    for number, angle in enumerate((math.radians(a), math.radians(b))):
        out += [
            "10",
            f"{(x + r * math.cos(angle)) * unit:.4f}",
            "20",
            f"{(y + r * math.sin(angle)) * unit:.4f}",
        ]
        if number == 0:
            out += ["42", f"{math.tan(math.radians(b - a) / 4):.6f}"]
    return out


def text(layer, x, y, h, words, turn, unit) -> list[str]:
    return groups(
        "TEXT",
        layer,
        *_xy(10, x * unit - 0.3 * h * unit * len(words), y * unit),
        (40, h * unit),
        (1, words),
        (50, float(turn)),
    )


def _ticked(layer, data, unit) -> list[str]:
    x1, y1, x2, y2, words = data
    out = groups("LINE", layer, *_xy(10, x1 * unit, y1 * unit), *_xy(11, x2 * unit, y2 * unit))
    for x, y in ((x1, y1), (x2, y2)):
        a, b = _xy(10, (x - 0.1) * unit, (y - 0.1) * unit), _xy(11, (x + 0.1) * unit, (y + 0.1) * unit)
        out += groups("LINE", layer, *a, *b)
    return out + text(layer, (x1 + x2) / 2, (y1 + y2) / 2 + 0.1, 0.2, words, 0, unit)


def _dimension(layer, data, unit) -> list[str]:
    x1, y1, x2, y2, words = data
    return groups(
        "DIMENSION",
        layer,
        (2, "*D0"),
        *_xy(10, x2 * unit, y2 * unit),
        *_xy(11, (x1 + x2) / 2 * unit, y1 * unit),
        (70, 32),
        (1, words),
        (100, "AcDbAlignedDimension"),
        *_xy(13, x1 * unit, y1 * unit),
        *_xy(14, x2 * unit, y2 * unit),
    )


def pdf(
    pages: Sequence[Sequence[Stroke]],
    pens: Mapping[str, str],
    scale: float = 100,
    size: tuple[float, float] = (1190.55, 841.89),
    at: tuple[float, float] = (160.0, 220.0),
    rotate: int = 0,
    packed: bool = True,
    curves: bool = True,
) -> bytes:
    """Write page operators by hand. `pens` are the operators that set a pen, like '0.7 w 0 0 0 RG'."""
    k = 72 / 0.0254 / scale
    contents = []
    for drawn in pages:
        ops = ["1 J 1 j"]
        if rotate == 90:
            ops.append(f"0 1 -1 0 {size[1]:.3f} 0 cm")
        last = None
        for pen, kind, data in drawn:
            setting = pens.get(pen, "0.25 w 0 0 0 RG 0 0 0 rg")
            if setting != last:
                ops.append(setting)
                last = setting
            ops += _operators(kind, data, k, at, curves)
        contents.append("\n".join(ops).encode("cp1252", "replace"))
    box = size if rotate != 90 else (size[1], size[0])
    return _pdf_file(contents, box, rotate, packed)


def _operators(kind, data, k, at, curves) -> list[str]:
    def p(x, y):
        return f"{x * k + at[0]:.3f} {y * k + at[1]:.3f}"

    if kind == "line":
        return [f"{p(data[0], data[1])} m {p(data[2], data[3])} l S"]
    if kind in ("arc", "round"):
        x, y, r, a, b = data if kind == "arc" else (*data, 0.0, 360.0)
        return [_curve(p, x, y, r, a, b, curves)]
    if kind == "fill":
        return [
            " ".join(
                " ".join(f"{p(*q)} {'l' if n else 'm'}" for n, q in enumerate(ring)) + " h" for ring in data
            )
            + " f*"
        ]
    if kind == "text":
        x, y, h, words, turn = data
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        safe = words.replace("\\", "\\\\").replace("(", "\\(").replace(")", "\\)")
        at_x, at_y = (float(n) for n in p(x, y).split())
        size = h * k
        return [
            f"BT /F1 {size:.2f} Tf {c:.4f} {s:.4f} {-s:.4f} {c:.4f} {at_x - 0.25 * size * len(words) * c:.2f} {at_y - 0.25 * size * len(words) * s:.2f} Tm ({safe}) Tj ET"
        ]
    x1, y1, x2, y2, words = data
    out = [f"{p(x1, y1)} m {p(x2, y2)} l S"]
    for x, y in ((x1, y1), (x2, y2)):
        out.append(f"{p(x - 0.12, y - 0.12)} m {p(x + 0.12, y + 0.12)} l S")
    turn = math.degrees(math.atan2(y2 - y1, x2 - x1))
    return out + _operators("text", ((x1 + x2) / 2, (y1 + y2) / 2 + 0.08, 0.2, words, turn), k, at, curves)


def _curve(p: Callable, x, y, r, a, b, curves: bool) -> str:
    count = max(1, round(abs(b - a) / 90)) if curves else max(6, round(abs(b - a) / 9))
    turns = np.radians(np.linspace(a, b, count + 1))
    out = [f"{p(x + r * math.cos(turns[0]), y + r * math.sin(turns[0]))} m"]
    for t0, t1 in pairwise(turns):
        end = (x + r * math.cos(t1), y + r * math.sin(t1))
        if not curves:
            out.append(f"{p(*end)} l")
            continue
        h = 4 / 3 * math.tan((t1 - t0) / 4)
        c1 = (x + r * (math.cos(t0) - h * math.sin(t0)), y + r * (math.sin(t0) + h * math.cos(t0)))
        c2 = (end[0] + r * h * math.sin(t1), end[1] - r * h * math.cos(t1))
        out.append(f"{p(*c1)} {p(*c2)} {p(*end)} c")
    return " ".join(out) + " S"


def _pdf_file(contents: Sequence[bytes], box, rotate: int, packed: bool) -> bytes:
    objects = [
        b"<</Type/Catalog/Pages 2 0 R>>",
        b"",
        b"<</Type/Font/Subtype/Type1/BaseFont/Helvetica/Encoding/WinAnsiEncoding>>",
    ]
    kids = []
    for body in contents:
        data = zlib.compress(body) if packed else body
        how = b"/Filter/FlateDecode" if packed else b""
        objects.append(b"<</Length %d%s>>stream\n%s\nendstream" % (len(data), how, data))
        kids.append(len(objects) + 1)
        objects.append(
            f"<</Type/Page/Parent 2 0 R/MediaBox[0 0 {box[0]:.2f} {box[1]:.2f}]/Rotate {rotate}"
            f"/Resources<</Font<</F1 3 0 R>>>>/Contents {len(objects)} 0 R>>".encode()
        )
    objects[1] = f"<</Type/Pages/Count {len(kids)}/Kids[{' '.join(f'{n} 0 R' for n in kids)}]>>".encode()
    out, places = io.BytesIO(), []
    out.write(b"%PDF-1.5\n")
    for number, body in enumerate(objects, start=1):
        places.append(out.tell())
        out.write(b"%d 0 obj\n%s\nendobj\n" % (number, body))
    start = out.tell()
    out.write(b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1))
    for place in places:
        out.write(b"%010d 00000 n \n" % place)
    out.write(b"trailer<</Size %d/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, start))
    return out.getvalue()


def svg(
    drawn: Sequence[Stroke],
    classes: Mapping[str, str],
    style: str,
    k: float,
    head: str,
    at: tuple[float, float] = (40.0, 60.0),
    groups_by: str = "class",
    tspans: bool = False,
) -> bytes:
    """Write SVG text by hand; y turned down by a transform on the whole."""
    high = max(
        max(s.data[1], s.data[3] if s.kind == "line" else -1e9)
        for s in drawn
        if s.kind in ("line", "arc", "text")
    )
    rows = []
    for pen, kind, data in drawn:
        how = f'{groups_by}="{classes.get(pen, pen)}"' if groups_by == "class" else classes.get(pen, "")

        def p(x, y):
            return f"{x * k + at[0]:.2f},{(high - y) * k + at[1]:.2f}"

        if kind in ("line", "measure"):
            rows.append(f'<path {how} d="M{p(data[0], data[1])} L{p(data[2], data[3])}"/>')
            if kind == "measure":
                x, y = ((data[0] + data[2]) / 2, data[1] + 0.1)
                rows.append(
                    f'<text {how} x="{p(x, y).split(",")[0]}" y="{p(x, y).split(",")[1]}" text-anchor="middle" font-size="{0.2 * k:.1f}">{data[4].replace(chr(34), "&quot;")}</text>'
                )
        elif kind == "arc":
            x, y, r, a, b = data
            p0 = p(x + r * math.cos(math.radians(a)), y + r * math.sin(math.radians(a)))
            p1 = p(x + r * math.cos(math.radians(b)), y + r * math.sin(math.radians(b)))
            rows.append(f'<path {how} d="M{p0} A{r * k:.2f},{r * k:.2f} 0 {int(b - a > 180)} 0 {p1}"/>')
        elif kind == "round":
            cx, cy = p(data[0], data[1]).split(",")
            rows.append(f'<circle {how} cx="{cx}" cy="{cy}" r="{data[2] * k:.2f}"/>')
        elif kind == "fill":
            d = " ".join("M" + " L".join(p(*q) for q in ring) + "Z" for ring in data)
            rows.append(f'<path {how} fill-rule="evenodd" d="{d}"/>')
        elif kind == "text":
            x, y = p(data[0], data[1]).split(",")
            words = f'<tspan x="{x}" y="{y}">{data[3]}</tspan>' if tspans else data[3]
            rows.append(
                f'<text {how} x="{x}" y="{y}" text-anchor="middle" font-size="{data[2] * k:.1f}">{words}</text>'
            )
    body = "\n".join(rows)
    return f'<?xml version="1.0" encoding="utf-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" {head}>{style}\n{body}\n</svg>'.encode()


def picture(
    drawn: Sequence[Stroke],
    dpi: float = 150,
    scale: float = 100,
    pens: Mapping[str, tuple[int, float]] | None = None,
    paper: int = 255,
    grain: float = 5.0,
    blur: float = 0.6,
    shadow: float = 0.0,
    turn: float = 0.0,
    camera: tuple[float, float, float] | None = None,
    kind: str = "PNG",
    margin_m: float = 1.5,
    seed: int = 1,
) -> bytes:
    """Draw strokes and take a picture of the paper. `pens` are (grey, width in metres of the building).

    `camera` (tilt, pan, roll in degrees) photographs the paper on a dark table.
    """
    k = dpi / 0.0254 / scale
    xy = [(s.data[0], s.data[1]) for s in drawn if s.kind != "fill"]
    xy += [q for s in drawn if s.kind == "fill" for ring in s.data for q in ring]
    low, high = np.min(xy, axis=0) - margin_m, np.max(xy, axis=0) + margin_m
    size = tuple(int(n) for n in np.ceil((high - low) * k))
    image = Image.new("L", size, paper)
    draw = ImageDraw.Draw(image)

    def p(x, y):
        return ((x - low[0]) * k, (high[1] - y) * k)

    for pen, shape, data in drawn:
        ink, wide = (pens or {}).get(pen, (40, 0.02))
        px = max(1, round(wide * k))
        if shape in ("line", "measure"):
            draw.line([p(data[0], data[1]), p(data[2], data[3])], fill=ink, width=px)
            if shape == "measure":
                for x, y in (data[:2], data[2:4]):
                    draw.line([p(x - 0.12, y - 0.12), p(x + 0.12, y + 0.12)], fill=ink, width=px)
                    draw.line([p(x, y - 0.2), p(x, y + 0.3)], fill=ink, width=px)
        elif shape in ("arc", "round"):
            x, y, r, a, b = data if shape == "arc" else (*data, 0, 360)
            (cx, cy), rr = p(x, y), r * k
            draw.arc([cx - rr, cy - rr, cx + rr, cy + rr], -b, -a, fill=ink, width=px)
        elif shape == "fill":
            for number, ring in enumerate(data):
                draw.polygon([p(*q) for q in ring], fill=ink if number == 0 else paper)
        if shape in ("text", "measure"):
            x, y, h, words = (
                data[:4] if shape == "text" else ((data[0] + data[2]) / 2, data[1] + 0.27, 0.22, data[4])
            )
            # The default typeface of the library has neither accents nor a raised two.
            font = ImageFont.truetype("DejaVuSans.ttf", size=max(8, round(h * k * 1.1)))
            draw.text(p(x, y), words, fill=ink, font=font, anchor="mm")
    return _taken(np.asarray(image, np.float32), paper, grain, blur, shadow, turn, camera, kind, seed)


def seen_from(
    width: float, height: float, tilt: float, pan: float, roll: float = 0.0, lens: float = 1.2
) -> list[tuple[float, float]]:
    """Where a camera that is tilted, panned and rolled (degrees) sees a sheet's corners, as shares of its picture.

    `lens` is its focal length over the picture's longer side; it looks at the middle of the sheet.
    """
    t, p, r = (math.radians(a) for a in (tilt, pan, roll))
    about_x = np.array([[1, 0, 0], [0, math.cos(t), -math.sin(t)], [0, math.sin(t), math.cos(t)]])
    about_y = np.array([[math.cos(p), 0, math.sin(p)], [0, 1, 0], [-math.sin(p), 0, math.cos(p)]])
    about_z = np.array([[math.cos(r), -math.sin(r), 0], [math.sin(r), math.cos(r), 0], [0, 0, 1]])
    long = max(width, height)
    corners = (
        np.array([[-width, -height, 0], [width, -height, 0], [width, height, 0], [-width, height, 0]]) / 2
    )
    turned = corners @ (about_z @ about_y @ about_x).T + [0, 0, lens * long * 1.25]
    flat = turned[:, :2] / turned[:, 2:] * lens * long
    return [(0.5 + float(x) / width / 1.25, 0.5 + float(y) / height / 1.25) for x, y in flat]


def _taken(paper_px, paper, grain, blur, shadow, turn, camera, kind, seed) -> bytes:
    rng = np.random.default_rng(seed)
    height, width = paper_px.shape
    seen = paper_px
    if turn:
        image = Image.fromarray(seen.astype(np.uint8))
        seen = np.asarray(
            image.rotate(turn, expand=True, fillcolor=paper, resample=Image.Resampling.BICUBIC), np.float32
        )
        height, width = seen.shape
    if camera is not None:
        corners = seen_from(width, height, *camera)
        goal = np.float32([(x * width * 1.25, y * height * 1.25) for x, y in corners])
        matrix = cv2.getPerspectiveTransform(
            np.float32([(0, 0), (width, 0), (width, height), (0, height)]), goal
        )
        seen = cv2.warpPerspective(
            seen, matrix, (int(width * 1.25), int(height * 1.25)), borderValue=95, flags=cv2.INTER_AREA
        )
        height, width = seen.shape
    if shadow:
        dark = 1 - shadow * (np.linspace(0, 1, width)[None, :] * np.linspace(0.3, 1, height)[:, None])
        seen = seen * dark
    seen = seen + rng.normal(0, grain, seen.shape)
    image = Image.fromarray(np.clip(seen, 0, 255).astype(np.uint8)).filter(ImageFilter.GaussianBlur(blur))
    out = io.BytesIO()
    image.convert("RGB").save(out, kind, **({"quality": 82} if kind == "JPEG" else {}))
    return out.getvalue()
