"""Drawings in, whatever their format: what is understood, and what bad files are told."""

import io
import json
from itertools import pairwise
from uuid import uuid4

import numpy as np
import pypdfium2 as pdfium
import pytest
from benchmarks import plans
from benchmarks.models import model
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from reportlab.lib.pagesizes import A3, landscape
from reportlab.pdfgen.canvas import Canvas

from heathrise.core.edit import apply
from heathrise.core.findings import assess
from heathrise.core.job import Job, Opening, Space, Storey, Wall
from heathrise.core.site.accepting import Taken, accept
from heathrise.core.site.building import building_of
from heathrise.core.site.proposal import Proposal
from heathrise.exchange import dxf
from heathrise.exchange.dxf import read_dxf
from heathrise.exchange.geojson import read_geojson, write_geojson
from heathrise.exchange.ifcshapes import build_up_of
from heathrise.exchange.plans import write_dxf, write_png, write_svg
from heathrise.exchange.reading import kind_of, read_file
from heathrise.exchange.readings import Reading, ReadingChoices
from heathrise.exchange.unreadable import NotAPicture, Unreadable

POINT_M = 0.0254 / 72


def new_id() -> str:
    return str(uuid4())


def read(body: bytes, **asked) -> Reading:
    return read_file(body, ReadingChoices(**asked), new_id, "test").reading


def walls_of(proposal: Proposal) -> np.ndarray:
    return np.array([[w.a.x_m, w.a.y_m, w.b.x_m, w.b.y_m] for w in proposal.storeys[0].walls]).reshape(-1, 4)


def score(reading: Reading, made: plans.Plan) -> tuple[float, float]:
    """Found and false shares; a drawing is brought to the sheet's corner, so the corners are laid over."""
    truth = made.truth * [1, -1, 1, -1]
    found = walls_of(reading.proposal)

    def corner(lines):
        return lines.reshape(-1, 2).min(axis=0)

    return plans.score(found - np.tile(corner(found) - corner(truth), 2), truth)


def pdf(made: plans.Plan, scale: int = 100, note: str = "", key: str | None = None) -> bytes:
    """Print a plan to a PDF page by another hand than the application's."""
    out = io.BytesIO()
    pen = Canvas(out, pagesize=landscape(A3), encrypt=key)
    k = 1 / POINT_M / scale
    pen.translate(60, 60)
    pen.setLineWidth(0.5)
    for ring in made.faces:
        for (x1, y1), (x2, y2) in pairwise(ring):
            pen.line(x1 * k, y1 * k, x2 * k, y2 * k)
    for name, room in made.rooms:
        at = room.representative_point()
        pen.drawCentredString(at.x * k, at.y * k, name)
    if note:
        pen.drawString(0, -30, note)
    pen.showPage()
    pen.save()
    return out.getvalue()


def svg(made: plans.Plan, k: float = 20) -> bytes:
    paths = "".join(
        "<path d='M" + "L".join(f"{x * k:.3f},{-y * k:.3f}" for x, y in ring) + "Z'/>" for ring in made.faces
    )
    texts = "".join(
        f"<text x='{r.representative_point().x * k}' y='{-r.representative_point().y * k}'>{n}</text>"
        for n, r in made.rooms
    )
    return (
        f"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 -400 600 400'><g id='walls' transform='translate(3,4)'>{paths}</g>"
        f"<g id='room names'>{texts}</g><g id='furniture'><rect x='10' y='-60' width='30' height='12'/></g></svg>"
    ).encode()


def geojson(made: plans.Plan) -> bytes:
    features = [
        {
            "type": "Feature",
            "properties": {"layer": "walls"},
            "geometry": {"type": "LineString", "coordinates": ring},
        }
        for ring in made.faces
    ]
    features += [
        {
            "type": "Feature",
            "properties": {"name": n},
            "geometry": {"type": "Point", "coordinates": [r.centroid.x, r.centroid.y]},
        }
        for n, r in made.rooms
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


class TestEachFormat:
    """The same generated plans through every door, none written by the application's exporters."""

    @pytest.mark.parametrize("seed", [0, 3])
    @pytest.mark.parametrize("turn", [0, 12])
    def test_vectors_find_nearly_every_wall(self, seed, turn):
        made = plans.plan(seed).turned(turn)
        files = {
            "dxf": (plans.dxf(made).encode(), {}),
            "pdf": (pdf(made, note="Scale 1:100 at A3"), {}),
            "svg": (svg(made), {"metres_per_unit": 1 / 20}),
            "geojson": (geojson(made), {}),
        }
        for kind, (body, asked) in files.items():
            reading = read(body, **asked)
            assert reading.kind == kind
            assert reading.scale_known
            found, false = score(reading, made)
            assert found >= 0.95, (kind, found)
            assert false <= 0.10, (kind, false)
            names = {space.label for space in reading.proposal.storeys[0].spaces}
            assert names == {name for name, _ in made.rooms}, kind

    @pytest.mark.parametrize("filled", [True, False], ids=["filled", "outlined"])
    @pytest.mark.parametrize("turn", [0.0, 1.7, -6.0])
    def test_pictures_find_most_walls(self, filled, turn):
        made = plans.plan(4)
        image, _ = plans.scan(made, dpi=150, scale=100, filled=filled)
        turned = image.rotate(turn, expand=True, fillcolor=255, resample=Image.Resampling.BICUBIC)
        out = io.BytesIO()
        turned.save(out, "PNG")
        reading = read(out.getvalue(), metres_per_unit=0.0254 / 150 * 100)
        found, false = score(reading, made)
        assert found >= 0.85
        assert false <= 0.10
        assert abs(reading.turn_deg + turn) < 0.2

    def test_a_scanned_page_is_read_as_a_picture(self):
        out = io.BytesIO()
        Image.open(io.BytesIO(plans.picture(plans.plan(2)))).convert("RGB").save(out, "PDF")
        reading = read(out.getvalue())
        assert reading.kind == "picture"
        assert len(reading.proposal.storeys[0].walls) > 5

    @pytest.mark.parametrize("axis", [True, False], ids=["axis lines", "solids only"])
    def test_a_model_gives_storeys_materials_doors_and_rooms(self, axis):
        reading = read(model(storeys=2, rooms=4, axis=axis).encode())
        ground, first = reading.proposal.storeys
        assert (ground.label, first.elevation_m, first.slab_build_up) == ("Ground", 3.0, "concrete-slab-250")
        assert len(ground.walls) == 7
        assert {w.build_up for w in ground.walls} == {"cavity", "stud-plasterboard", "reinforced-200"}
        assert sorted((o.opening_kind, o.width_m) for o in ground.openings) == [("door", 0.9)] * 3 + [
            ("window", 1.4)
        ]
        assert [o.sill_m for o in ground.openings if o.opening_kind == "window"] == [0.9]
        assert [space.label for space in ground.spaces] == [f"Room 0-{n}" for n in range(4)]

    def test_units_are_taken_from_the_header_asked_or_guessed(self):
        made = plans.plan(1)
        assert read(plans.dxf(made, 1.0, 6).encode()).unit == "metres"
        assert read(plans.dxf(made, 1000.0, 4).encode()).metres_per_unit == pytest.approx(0.001)
        guessed = read(plans.dxf(made, 1000.0, None).encode())
        assert (guessed.scale_known, guessed.metres_per_unit) == (False, 0.001)
        asked = read(plans.dxf(made, 100.0, None).encode(), metres_per_unit=0.01)
        assert asked.scale_known
        assert score(asked, made)[0] >= 0.95

    def test_doors_come_as_blocks_with_their_width(self):
        made = plans.plan(5)
        openings = read(plans.dxf(made).encode()).proposal.storeys[0].openings
        widths = sorted(round(float(np.hypot(d[2] - d[0], d[3] - d[1])), 2) for d in made.doors)
        assert sorted(round(o.width_m, 2) for o in openings) == pytest.approx(widths, abs=0.03)


def dxf_with(entities: str, blocks: str = "", header: str = "") -> bytes:
    def section(name, body):
        return f"0\nSECTION\n2\n{name}\n{body}0\nENDSEC\n"

    return (
        section("HEADER", header) + section("BLOCKS", blocks) + section("ENTITIES", entities) + "0\nEOF\n"
    ).encode()


def square(layer: str = "WALL") -> str:
    corners = ((0, 0), (9, 0), (9, 6), (0, 6), (0, 0))
    return "".join(
        f"0\nLINE\n8\n{layer}\n10\n{x1}\n20\n{y1}\n30\n0\n11\n{x2}\n21\n{y2}\n31\n0\n"
        for (x1, y1), (x2, y2) in pairwise(corners)
    )


class TestBadFiles:
    """A clear word for each, nothing half-read, no crash."""

    def test_blocks_nested_thirty_deep_are_cut_and_named(self):
        blocks = (
            "".join(
                f"0\nBLOCK\n8\n0\n2\nB{n}\n70\n0\n10\n0\n20\n0\n30\n0\n3\nB{n}\n"
                f"0\nINSERT\n8\n0\n2\nB{n + 1}\n10\n0\n20\n0\n30\n0\n0\nENDBLK\n8\n0\n"
                for n in range(30)
            )
            + f"0\nBLOCK\n8\n0\n2\nB30\n70\n0\n10\n0\n20\n0\n30\n0\n3\nB30\n{square()}0\nENDBLK\n8\n0\n"
        )
        drawing = read_dxf(dxf_with("0\nINSERT\n8\n0\n2\nB0\n10\n0\n20\n0\n30\n0\n" + square(), blocks))
        assert len(drawing.lines) == 4
        assert any("nested" in s.why for s in drawing.left_out)

    def test_a_missing_block_and_a_missing_external_drawing_are_named(self):
        blocks = (
            "0\nBLOCK\n8\n0\n2\nOTHER\n70\n4\n10\n0\n20\n0\n30\n0\n3\nOTHER\n1\nother.dwg\n0\nENDBLK\n8\n0\n"
        )
        entities = square() + "".join(
            f"0\nINSERT\n8\n0\n2\n{n}\n10\n0\n20\n0\n30\n0\n" for n in ("OTHER", "NOWHERE")
        )
        left = {s.what: s.why for s in read_dxf(dxf_with(entities, blocks)).left_out}
        assert "file of its own" in left["external drawing OTHER"]
        assert "does not hold" in left["block NOWHERE"]

    def test_a_drawing_a_thousand_kilometres_out_comes_back_to_the_sheet(self):
        made = plans.plan(1)
        far = plans.Plan(
            [((x1 + 1e6, y1 + 2e6, x2 + 1e6, y2 + 2e6), t) for (x1, y1, x2, y2), t in made.walls]
        )
        reading = read(plans.dxf(far).encode())
        assert np.abs(walls_of(reading.proposal)).max() < 100
        assert any("2236 km" in note for note in reading.proposal.notes)
        model_read = read(model(unit=1.0, origin=(1e6, 2e6)).encode())
        assert np.abs(walls_of(model_read.proposal)).max() < 100

    def test_a_model_without_storeys_goes_onto_one(self):
        reading = read(model(storeys=1, with_storeys=False).encode())
        assert [s.label for s in reading.proposal.storeys] == ["Ground"]
        assert "no storeys" in reading.proposal.notes[0]

    def test_a_protected_pdf_says_so(self):
        with pytest.raises(Unreadable, match="password"):
            read(pdf(plans.plan(1), key="secret"))

    def test_a_page_that_is_not_there(self):
        with pytest.raises(Unreadable, match="page 7"):
            read(pdf(plans.plan(1)), page=7)

    @pytest.mark.parametrize("size", [(1, 1), (39, 500)])
    def test_a_picture_too_small_to_hold_a_wall(self, size):
        out = io.BytesIO()
        Image.new("L", size, 255).save(out, "PNG")
        with pytest.raises(NotAPicture, match="pixels"):
            read(out.getvalue())

    def test_blank_paper_proposes_nothing_and_says_so(self):
        out = io.BytesIO()
        Image.new("L", (800, 600), 255).save(out, "PNG")
        reading = read(out.getvalue())
        assert reading.proposal.storeys[0].walls == ()
        assert any("No wall" in note for note in reading.proposal.notes)

    def test_a_small_svg_that_would_blow_up_is_refused(self):
        bomb = b"<?xml version='1.0'?><!DOCTYPE s [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg'>&b;</svg>"
        with pytest.raises(Unreadable, match="entities"):
            read(bomb)

    def test_self_crossing_lines_are_no_trouble(self):
        bow = "0\nLWPOLYLINE\n100\nAcDbEntity\n8\nWALL\n100\nAcDbPolyline\n90\n4\n70\n1\n" + "".join(
            f"10\n{x}\n20\n{y}\n" for x, y in ((0, 0), (9, 6), (9, 0), (0, 6))
        )
        reading = read(dxf_with(bow, header="9\n$ACADVER\n1\nAC1015\n"), metres_per_unit=1.0)
        assert len(reading.proposal.storeys[0].walls) == 4
        assert all(len(s.outline) >= 3 for s in reading.proposal.storeys[0].spaces)

    def test_too_many_entities_are_refused_before_they_are_read(self, monkeypatch):
        monkeypatch.setattr(dxf, "limit", lambda name: 3 if name == "import.entities" else 12)
        with pytest.raises(Unreadable, match="4 entities; 3 is the most"):
            read_dxf(dxf_with(square()))

    def test_what_a_reader_is_doing_is_told_as_it_goes(self):
        told = []
        read_file(
            plans.dxf(plans.plan(2)).encode(),
            ReadingChoices(),
            new_id,
            "x",
            lambda share, doing: told.append((share, doing)),
        )
        assert [share for share, _ in told] == sorted(share for share, _ in told)
        assert any("entity" in doing for _, doing in told)


SAMPLES = {
    "dxf": plans.dxf(plans.plan(1, 9, 7)).encode(),
    "svg": svg(plans.plan(1, 9, 7)),
    "geojson": geojson(plans.plan(1, 9, 7)),
    "ifc": model(storeys=1, rooms=2).encode(),
    "pdf": pdf(plans.plan(1, 9, 7)),
    "picture": plans.picture(plans.plan(1, 9, 7), dpi=60),
}


@pytest.mark.parametrize("kind", sorted(SAMPLES))
@settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_a_mutated_file_is_read_or_refused_in_words_and_never_breaks(kind, data):
    body = bytearray(SAMPLES[kind])
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, len(body) - 1))
        how = data.draw(st.sampled_from(["flip", "cut", "double", "digits"]))
        if how == "flip":
            body[at] ^= data.draw(st.integers(1, 255))
        elif how == "cut":
            del body[at : at + data.draw(st.integers(1, 400))]
        elif how == "double":
            body[at:at] = body[at : at + 200]
        else:
            body[at : at + 3] = b"1e9"
        if not body:
            break
    try:
        reading = read(bytes(body), metres_per_unit=None)
    except (Unreadable, NotAPicture) as error:
        assert len(str(error)) > 15
    else:
        assert Reading.model_validate_json(reading.model_dump_json()) == reading


@settings(max_examples=80, deadline=None)
@given(st.binary(max_size=400))
def test_any_bytes_have_a_kind_or_a_word(body):
    try:
        assert kind_of(body) in ("dxf", "ifc", "pdf", "svg", "geojson", "picture")
    except Unreadable as error:
        assert str(error).endswith(".")


class TestOut:
    """What goes out can be read by others; the readers here stand for them."""

    def test_a_storey_goes_out_and_its_walls_come_back(self, school):
        ground = school.storeys[0].id
        wanted = sum(w.storey_id == ground for w in school.elements if w.kind == "wall")
        lines = json.loads(write_geojson(school, ground))["features"]
        assert sum(f["properties"]["kind"] == "wall" for f in lines) == wanted
        drawing = read_dxf(write_dxf(school, ground).encode())
        assert drawing.metres_per_unit == 1.0
        assert drawing.line_layers.count("HR-WALL") == wanted
        assert {text.words for text in drawing.texts} >= {"Recital hall", "TR1", "Hall west"}
        again = read(write_svg(school, ground).encode(), metres_per_unit=1.0)
        assert {row.name for row in again.layers} >= {"HR-WALL", "HR-DOOR", "HR-NAME"}
        assert len(read_geojson(write_geojson(school, ground).encode()).lines) > wanted

    def test_the_picture_is_one_and_bounded(self, school):
        image = Image.open(io.BytesIO(write_png(school, school.storeys[0].id)))
        assert image.format == "PNG"
        assert max(image.size) <= 6000


@pytest.mark.parametrize(
    ("layers", "expected"),
    [
        ([("Reinforced concrete C30", 200)], "reinforced-200"),
        ([("Beton", 150)], "concrete-150"),
        ([("Gypsum board", 12.5), ("Air", 70), ("Gypsum board", 12.5)], "stud-plasterboard"),
        ([("Facing brick", 102), ("Wool", 100), ("Concrete block", 100)], "cavity"),
        ([("Ziegel", 300)], "brick-327"),
        ([("Limestone", 500)], "stone-500"),
        ([("Gypsum board", 12), ("Lead sheet", 2)], "lead-lined"),
        ([("Unobtainium", 80)], None),
        ([], None),
    ],
)
def test_materials_become_build_ups(layers, expected):
    assert build_up_of(layers) == expected


def test_the_test_pdf_is_one():
    assert len(pdfium.PdfDocument(pdf(plans.plan(1)))) == 1


WRONG = {"plan.space-open", "plan.wall-crosses-itself", "plan.door-improbable", "plan.storey-height"}


@pytest.mark.parametrize("kind", ["dxf", "pdf", "svg", "geojson", "picture", "ifc"])
def test_every_format_becomes_a_building_that_passes_the_geometry_checks(kind):
    made = plans.plan(4)
    files = {
        "dxf": (plans.dxf(made).encode(), {}),
        "pdf": (pdf(made, note="1:100"), {}),
        "svg": (svg(made), {"metres_per_unit": 1 / 20}),
        "geojson": (geojson(made), {}),
        "picture": (plans.picture(made), {"metres_per_unit": 0.0254 / 150 * 100}),
        "ifc": (model(storeys=2, rooms=4).encode(), {}),
    }
    body, asked = files[kind]
    proposal = read(body, **asked).proposal
    ground = Storey(id=new_id(), label="Ground", elevation_m=0)
    empty = Job(name="Imported", elements=(ground,))
    job = apply(empty, accept(empty, proposal, Taken(), ground.id, new_id)).job
    assert len(job.of(Wall)) >= 10
    assert len(job.of(Space)) >= 8
    assert [f.text for f in assess(job).findings if f.rule in WRONG] == []
    assert all(shape.is_valid and shape.area > 0.5 for shape in building_of(job).polygons.values())
    for opening in job.of(Opening):
        assert opening.at_m + opening.width_m <= job.get(Wall, opening.wall_id).length_m + 0.01
