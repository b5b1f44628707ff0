"""The single-line drawing: every file opened again by an independent reader, every conductor on it, nothing off it."""

from __future__ import annotations

import csv
import io
import xml.etree.ElementTree as ElementTree

import ezdxf
import pyogrio
import pypdf
import pytest
from ezdxf.recover import read as recover
from msgspec.structs import replace

from tests import plants
from weighty_axle.answers.wiring.schedule import schedule
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.design.inverters.selectors import stacking_selector
from weighty_axle.exports.drawings.marks import HIGH_MM, WIDE_MM, Box, Dot, Line, Words
from weighty_axle.exports.drawings.sheet_files import _PLAIN, sheets_dxf, sheets_svg
from weighty_axle.exports.drawings.single_line import single_line
from weighty_axle.exports.pages.page import PackPages, write_pdf
from weighty_axle.exports.pages.single_line import pages
from weighty_axle.exports.tables.design import cables_csv, fuses_csv
from weighty_axle.job.models.inverters import Panel

DEMOS = ["eye-clinic", "puppet-theatre", "library-bus"]
SVG = "{http://www.w3.org/2000/svg}"


def test_a_selector_shows_what_each_position_closes(clinic):
    made = stacking_selector(clinic, derive(clinic).ac).apply(clinic)
    selector = made.ac.selectors[0]
    (sheet,) = (one for one in single_line(derive(made)) if "selector" in one.title)
    across = {mark.text: mark.x for mark in sheet.marks if isinstance(mark, Words) and mark.anchor == "middle"}
    down = {mark.text: mark.y - 0.8 for mark in sheet.marks if isinstance(mark, Words) and mark.x == 40}
    assert set(down) == {contact.end for position in selector.positions for contact in position.contacts}
    dots = [mark for mark in sheet.marks if isinstance(mark, Dot)]
    for position in selector.positions:
        assert sum(dot.x == across[position.name] for dot in dots) == len(position.contacts)


def _tags(design):
    return {one.tag for own in (design, *design.others) for one in schedule(own)}


@pytest.mark.parametrize("name", DEMOS)
def test_every_conductor_stands_on_a_sheet_with_its_fuse_and_nothing_runs_off_it(name):
    design = derive(demo(name))
    sheets = single_line(design)
    words = [mark.text for sheet in sheets for mark in sheet.marks if isinstance(mark, Words)]
    for tag in _tags(design):
        assert any(text == tag or (text.rstrip("…") and tag.startswith(text.rstrip("…"))) for text in words), tag
    for sheet in sheets:
        assert sheet.high_mm <= HIGH_MM
        for mark in sheet.marks:
            if isinstance(mark, Box):
                assert mark.x >= 0 and mark.x + mark.wide <= WIDE_MM + 1
            elif isinstance(mark, Line):
                assert 0 <= min(mark.x1, mark.x2) <= max(mark.x1, mark.x2) <= WIDE_MM
            elif mark.__class__ is Words and mark.anchor == "start":
                assert mark.x + 0.62 * mark.size * len(mark.text) <= WIDE_MM + 3, mark.text


@pytest.mark.parametrize("name", DEMOS)
def test_svg_dxf_and_pdf_are_read_back_by_others_with_the_same_words(name, tmp_path):
    """SVG by an XML parser, DXF by ezdxf with its audit and by GDAL, PDF by pypdf."""
    design = derive(demo(name))
    sheets = single_line(design)
    expected = sorted(mark.text for sheet in sheets for mark in sheet.marks if isinstance(mark, Words) and mark.text)
    root = ElementTree.fromstring(sheets_svg(sheets, name))
    drawn = sorted("".join(one.itertext()) for one in root.iter(f"{SVG}text"))
    titles = [sheet.title for sheet in sheets]
    assert drawn == sorted([*expected, *titles])
    assert len(root.findall(f"{SVG}g")) == len(sheets)
    raw = sheets_dxf(sheets)
    assert raw == sheets_dxf(sheets), "the same drawing is the same file"
    document, auditor = recover(io.BytesIO(raw))
    assert not auditor.has_errors and document.units == ezdxf.units.MM
    texts = sorted(one.dxf.text for one in document.modelspace().query("TEXT"))
    plain = sorted(text.translate(_PLAIN) for text in [*expected, *titles])
    assert texts == plain
    path = tmp_path / "single-line.dxf"
    path.write_bytes(raw)
    frame = pyogrio.raw.read(path, columns=["Layer", "Text"])
    layers = dict(zip(frame[0]["fields"], frame[3], strict=True))
    assert {"WIRES", "PARTS", "JOINTS", "WORDS"} <= set(layers["Layer"])
    assert sorted(one for one in layers["Text"] if one) == plain
    pdf = tmp_path / "drawing.pdf"
    write_pdf(
        pdf, "t", "f", design.job.practice, lambda width: pages(PackPages(design, (), None, "metric", width, None))
    )
    printed = " ".join(page.extract_text() for page in pypdf.PdfReader(pdf).pages)
    flat = "".join(printed.split())
    for tag in _tags(design):
        assert "".join(tag.split()) in flat, tag


@pytest.mark.parametrize("shape", [plants.staged, plants.transfer, plants.two_groups, plants.no_inverters])
def test_other_shapes_are_drawn_and_listed_too(puppet, shape):
    design = derive(shape(puppet))
    sheets = single_line(design)
    ElementTree.fromstring(sheets_svg(sheets, "shape"))
    assert len(recover(io.BytesIO(sheets_dxf(sheets)))[0].modelspace()) > 10
    rows = list(csv.DictReader(io.StringIO(cables_csv(design).decode("utf-8-sig"))))
    assert {row["tag"] for row in rows} == _tags(design)


@pytest.mark.parametrize("name", DEMOS)
def test_schedules_say_all_of_every_conductor_and_fuse(name):
    """Tag, size, length, fuse, drop and what both ends are landed with: none is empty but the fuse of a string that
    needs none.
    """
    design = derive(demo(name))
    for row in csv.DictReader(io.StringIO(cables_csv(design).decode("utf-8-sig"))):
        assert all(row[key] for key in ("tag", "conductor", "length_m", "drop", "start", "end", "from", "to")), row
        assert row["fuse_a"] or row["carries"] == "PV"
    fuses = list(csv.DictReader(io.StringIO(fuses_csv(design).decode("utf-8-sig"))))
    ways = [way.tag for own in (design, *design.others) if not own.system.shares_bank for way in own.tree.ways]
    assert [row["way"] for row in fuses] == [tag for tag in ways if "–" not in tag]
    assert all(float(row["rating_a"]) > 0 and float(row["short_at_end_a"]) > 0 for row in fuses)


def test_a_crowd_goes_on_over_more_sheets_and_fits_the_page(tmp_path):
    """Sixty circuits in one panel, two dozen AC panels, as many ways on the bar: every sheet stays a sheet."""
    job = demo("library-bus")
    thin = replace(job.dc.circuits[0], panel="", bar="", size="10 AWG")
    many = tuple(replace(job.dc.circuits[0], tag=f"KX{at}", name=f"Way {at}") for at in range(60))
    bare = tuple(replace(thin, tag=f"KY{at}", name=f"Lone way {at}") for at in range(30))
    panels = tuple(Panel(tag=f"PX{at}", name=f"Panel {at}", fed_from="MAIN") for at in range(22))
    job = replace(
        job,
        dc=replace(job.dc, circuits=(*job.dc.circuits, *many, *bare)),
        ac=replace(job.ac, panels=(*job.ac.panels, *panels)),
    )
    design = derive(job)
    sheets = single_line(design)
    assert all(sheet.high_mm <= HIGH_MM for sheet in sheets)
    drawn = {mark.text for sheet in sheets for mark in sheet.marks if isinstance(mark, Words)}
    assert {one.tag for one in (*many, *bare)} <= drawn and {one.tag for one in panels} <= drawn
    pdf = tmp_path / "crowd.pdf"
    write_pdf(pdf, "t", "f", job.practice, lambda width: pages(PackPages(design, (), None, "metric", width, None)))
    assert len(pypdf.PdfReader(pdf).pages) > 10
