"""Files of the build: codes read again, sizes measured, drawings audited, tables taken back in whole or not at all."""

from __future__ import annotations

import csv
import io
import json
from datetime import date

import cv2
import ezdxf
import icalendar
import numpy as np
import openpyxl
import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.labels import labels
from weighty_axle.answers.parts.listing import parts_list
from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.plan import plan
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.build_pack import BuildPack, NoSuchFileError, build_names, one_file
from weighty_axle.exports.drawings.labels import PAPER_MM, label_sheets_of
from weighty_axle.exports.drawings.marks import Box, Cells
from weighty_axle.exports.pack import write_pack
from weighty_axle.exports.pages.plan import write_today
from weighty_axle.exports.tables.parts import read_parts, take_parts, write_parts
from weighty_axle.exports.tables.reading import TableError
from weighty_axle.job.files.stock import Stock
from weighty_axle.job.models.build import Labels
from weighty_axle.rules.judge import judge

DAY = date(2027, 3, 1)


@pytest.fixture(scope="module")
def coach():
    return derive(demos.demo("eye-clinic"))


@pytest.fixture(scope="module")
def theatre():
    return derive(demos.demo("puppet-theatre"))


@pytest.fixture(scope="module")
def made(coach):
    return BuildPack(coach, DAY)


# ---- labels ----


def test_codes_on_labels_are_read_again_by_another_library(theatre):
    """OpenCV reads what segno wrote, from the very boxes that are printed (ISO/IEC 18004)."""
    page = label_sheets_of(theatre, cuts(theatre))[0]
    wanted = {one.code for one in labels(theatre) if one.kind == "cable"}
    wide, high = PAPER_MM["A4"]
    scale = 12
    sheet = np.full((int(high * scale), int(wide * scale)), 255, dtype=np.uint8)
    for mark in page.marks:
        for x, y, wide in mark.runs if isinstance(mark, Cells) else ():
            left, top = round(x * scale), round(y * scale)
            sheet[top : round((y + mark.high) * scale), left : round((x + wide) * scale)] = 0
    read = set()
    for row in range(4):
        for column in range(5):
            left, top = (4.75 + 40.6 * column) * scale, (10.7 + 21.2 * row) * scale
            cut = sheet[int(top) : int(top + 21.2 * scale), int(left) : int(left + 19 * scale)]
            framed = cv2.copyMakeBorder(cut, 40, 40, 40, 40, cv2.BORDER_CONSTANT, value=255)
            read.add(cv2.QRCodeDetector().detectAndDecode(framed)[0])
    assert len(read) == 20 and read <= wanted


def test_labels_have_their_size_on_paper(theatre):
    """Outlines of own labels, read from the PDF: a point is 1/72 inch."""
    own = Labels(sheet="own", wide_mm=60.0, high_mm=20.0)
    job = replace(theatre.whole, build=replace(theatre.whole.build, labels=own))
    reader = pypdf.PdfReader(io.BytesIO(BuildPack(derive(job), DAY).files()["labels.pdf"]()))
    page = reader.pages[0]
    assert (float(page.mediabox.width), float(page.mediabox.height)) == pytest.approx(
        (210 / 25.4 * 72, 297 / 25.4 * 72)
    )
    boxes = [
        tuple(float(value) * 25.4 / 72 for value in operands[2:])
        for operands, operator in page.get_contents().operations
        if operator == b"re"
    ]
    whole = [box for box in boxes if box == pytest.approx((60.0, 20.0), abs=0.02)]
    assert len(whole) == 3 * 12  # 210 - 2 × 10 takes three of 60 and 3 between, 297 twelve of 20
    test = reader.pages[-1].get_contents().operations
    squares = [box for box, operator in test if operator == b"re" and float(box[2]) == pytest.approx(50 / 25.4 * 72)]
    assert squares and float(squares[0][3]) == pytest.approx(50 / 25.4 * 72)


@pytest.mark.parametrize("sheet", ["labels_24", "labels_21", "labels_65", "letter_30", "letter_10", "own"])
def test_every_sheet_keeps_its_labels_on_the_paper(theatre, sheet):
    job = replace(theatre.whole, build=replace(theatre.whole.build, labels=Labels(sheet=sheet)))
    for page in label_sheets_of(derive(job), cuts(theatre)):
        wide, high = PAPER_MM["Letter" if sheet.startswith("letter") else "A4"]
        assert page.wide_mm == wide and page.high_mm <= high + 1
        for mark in page.marks:
            if isinstance(mark, Box):
                assert mark.x >= -0.01 and mark.x + mark.wide <= wide + 0.01 and mark.y + mark.high <= high + 0.01


# ---- boards ----


def test_the_board_s_drawing_is_sound_and_its_holes_are_where_they_are_listed(coach, made):
    document = ezdxf.read(io.StringIO(made.files()["board.dxf"]().decode("ascii", errors="replace")))
    assert not document.audit().errors
    circles = {
        (round(one.dxf.center.x, 1), round(one.dxf.center.y, 1), round(2 * one.dxf.radius, 1))
        for one in document.modelspace().query("CIRCLE")
    }
    board = board_plans(coach)[0]
    below = 6.0 + board.high_mm
    assert circles == {(hole.x_mm, round(hole.y_mm - below, 1), hole.hole_mm) for hole in board.holes}
    page = pypdf.PdfReader(io.BytesIO(made.files()["board.pdf"]())).pages[0]
    assert float(page.mediabox.width) == pytest.approx((board.wide_mm + 30) / 25.4 * 72)


# ---- plan ----


def test_the_calendar_is_read_by_another_library(coach, made):
    found = icalendar.Calendar.from_ical(made.files()["plan.ics"]())
    events = list(found.walk("VEVENT"))
    stretches = [stretch for one in made.planned.planned if not one.done for stretch in one.stretches]
    assert len(events) == len(stretches) == len({str(one["UID"]) for one in events})
    assert {(one.decoded("DTSTART"), one.decoded("DTEND")) for one in events} == set(stretches)
    names = {one.tag: one.name for one in made.planned.workers}
    first = made.planned.planned[0]
    assert f"{names[first.who]}: {first.task.words}" in {str(one["SUMMARY"]) for one in events}


def test_one_person_s_day_is_printed(theatre, tmp_path):
    found = plan(theatre, DAY, longest_s=0)
    one = found.planned[0]
    path = write_today(theatre, found, one.who, one.starts.date(), tmp_path / "day.pdf")
    text = "".join(page.extract_text() for page in pypdf.PdfReader(path).pages)
    assert one.starts.date().isoformat() in text and "".join(one.task.words.split())[:20] in "".join(text.split())
    empty = write_today(theatre, found, "", date(2030, 1, 1), tmp_path / "empty.pdf")
    assert "Nothing is planned" in pypdf.PdfReader(empty).pages[0].extract_text()


# ---- parts, out and back ----


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_a_table_of_parts_comes_back_as_it_was(coach, tmp_path, ending):
    listed = parts_list(coach, DAY)
    path = tmp_path / f"parts.{ending}"
    write_parts(listed, path)
    read = read_parts(path, coach.whole, listed)
    assert not read.problems and not read.unknown
    job = take_parts(read).on(coach.whole)
    assert {one.part: one.amount for one in job.year.prices} == {
        one.part: one.amount for one in coach.whole.year.prices
    }
    assert sorted(job.build.parts, key=lambda one: one.part) == sorted(
        coach.whole.build.parts, key=lambda one: one.part
    )


def table(path, *rows):
    path.write_text("\r\n".join(("part,price,status,counted,due,supplier", *rows)), encoding="utf-8")
    return path


def test_prices_and_status_are_taken_in(theatre, tmp_path):
    listed = parts_list(theatre, DAY)
    part = theatre.whole.bank.spec.name
    path = table(tmp_path / "in.csv", f'"{part}","1.234,50",here,4,,Old Mill', "no such part,1,ordered,,,")
    read = read_parts(path, theatre.whole, listed)
    assert read.unknown == ("no such part",) and not read.problems
    job = take_parts(read).on(theatre.whole)
    line = parts_list(derive(job), DAY).line(part)
    assert (line.price, line.status, line.counted, line.supplier) == (1234.5, "here", 4.0, "Old Mill")


@pytest.mark.parametrize(
    ("cells", "words"),
    [
        ("1,5,00\t\t\t\t", "no number"),
        ("-3\t\t\t\t", "between 0"),
        ("\tmaybe\t\t\t", "no status"),
        ("\t\t-2\t\t", "between 0"),
        ("\t\t\t2027-02-30\t", "no day"),
        ("nan\t\t\t\t", "no number"),
    ],
)
def test_a_bad_cell_is_told_by_row_and_column_and_nothing_is_taken_in(theatre, tmp_path, cells, words):
    part = theatre.whole.bank.spec.name
    path = tmp_path / "bad.csv"
    path.write_text(f"part\tprice\tstatus\tcounted\tdue\tsupplier\r\n{part}\t{cells}\r\n", encoding="utf-8")
    read = read_parts(path, theatre.whole, parts_list(theatre, DAY))
    assert [one.row for one in read.problems] == [2] and words in read.problems[0].words


def test_a_part_twice_and_a_table_of_something_else_are_refused(theatre, tmp_path):
    listed = parts_list(theatre, DAY)
    part = theatre.whole.bank.spec.name
    twice = read_parts(table(tmp_path / "a.csv", f"{part},1,,,,", f"{part},2,,,,"), theatre.whole, listed)
    assert "twice" in twice.problems[0].words
    (tmp_path / "b.csv").write_text("name,watts\r\nKettle,1000\r\n")
    with pytest.raises(TableError, match="no column"):
        read_parts(tmp_path / "b.csv", theatre.whole, listed)


# ---- the pack and the command line ----


def test_the_pack_holds_the_build_with_bookmarks_and_an_index_by_tag(coach, tmp_path):
    write_pack(coach, judge(coach), tmp_path, today=DAY, system="metric")
    assert all((tmp_path / name).stat().st_size > 200 for name in build_names(coach))
    reader = pypdf.PdfReader(tmp_path / "pack.pdf")
    marks = [one.title for one in reader.outline if not isinstance(one, list)]
    assert {"Parts", "Cut list", "Reels", "Work plan", "Tools for this job", "Joints: torque and record"} <= set(marks)
    texts = [page.extract_text() for page in reader.pages]
    index = "".join(texts[marks and reader.get_destination_page_number(reader.outline[-1]) :])
    line = next(one for one in index.splitlines() if one.strip().startswith("W-INV1:"))
    for number in map(int, line.split("W-INV1:")[1].split("W-")[0].replace(" ", "").rstrip(",").split(",")):
        assert "W-INV1" in texts[number - 1].replace("\n", "")
    rows = list(csv.reader(io.StringIO((tmp_path / "cuts.csv").read_text(encoding="utf-8-sig"))))
    assert len(rows) == 1 + len(cuts(coach)) and all(len(row) == len(rows[0]) for row in rows)
    book = openpyxl.load_workbook(tmp_path / "parts.xlsx")
    assert book.active.max_row == 1 + len(parts_list(coach, DAY).lines)


@pytest.mark.parametrize(
    ("word", "ending", "key"), [("parts", "csv", "parts"), ("cuts", "csv", "reels"), ("plan", "ics", "tasks")]
)
def test_the_command_line_writes_and_prints_each_part(tmp_path, capsys, word, ending, key):
    path = tmp_path / f"x.{ending}"
    assert main([word, "demo:puppet-theatre", "-o", str(path), "--json"]) == 0
    assert path.stat().st_size > 300 and json.loads(capsys.readouterr().out)[key]
    assert main([word, "demo:puppet-theatre", "-o", str(tmp_path / "x.odd")]) == 2
    assert "are written as" in capsys.readouterr().err
    assert main([word, "demo:puppet-theatre"]) == 2


def test_boards_and_stocks_that_are_not_there_are_said(theatre, tmp_path, capsys):
    with pytest.raises(NoSuchFileError, match="No board"):
        one_file(theatre, "board", tmp_path / "x.dxf", DAY, Stock())
    (tmp_path / "stock.json").write_text('{"pieces": [{"name": "a", "conductor": "b", "length_m": -2}]}')
    assert main(["cuts", "demo:puppet-theatre", "--json", "--stock", str(tmp_path / "stock.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err
    assert main(["labels", "demo:puppet-theatre", "--json"]) == 0
    assert main(["board", "demo:eye-clinic", "--json"]) == 0
    assert json.loads(capsys.readouterr().out.split("]\n[")[-1].join(("[", "")))[0]["holes"]
