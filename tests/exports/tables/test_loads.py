"""Loads as tables, the appliance library, vehicle types, the survey sheet."""

from __future__ import annotations

import csv
import zipfile
from datetime import date

import openpyxl
import pypdf
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests import jobs
from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.exports.pages.survey_sheet import write_survey_sheet
from weighty_axle.exports.tables.cells import table_text
from weighty_axle.exports.tables.loads import FIELDS, pattern_text, write_loads
from weighty_axle.exports.tables.loads_read import LoadsRead, TableError, read_loads
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.brief import add_load, painted
from weighty_axle.job.models.brief import MOST_LOADS, Span
from weighty_axle.reference.appliances import Appliance, appliance_of, appliances, keep_own, load_of, read_own
from weighty_axle.reference.first_job import first_job
from weighty_axle.reference.vehicle_types import take_type, vehicle_types
from weighty_axle.rules.judge import judge


def table(path, text, encoding="utf-8"):
    path.write_bytes(text.encode(encoding))
    return path


@pytest.mark.parametrize("name", demos.names())
@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_loads_survive_the_way_out_and_in(tmp_path, name, ending):
    job = jobs.plain(name)
    path = tmp_path / f"loads.{ending}"
    write_loads(job, path)
    read = read_loads(path, job)
    assert read.problems == () and read.passed_over == ()
    assert read.loads == job.loads


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=40)
@given(
    st.lists(st.tuples(st.integers(0, 1439), st.integers(1, 600), st.sampled_from([1.0, 0.5, 0.35])), max_size=8),
    st.text(max_size=60),
)
def test_any_painted_day_and_any_text_survives(tmp_path, puppet, strokes, note):
    spans = ()
    for start, length, level in strokes:
        spans = painted(spans, start, min(1440, start + length), level)
    name = "=1+1" if not note.strip() else note.strip()[:60]
    load = replace(puppet.loads[0], name=table_text(" ".join(name.split())).strip() or "x", patterns={"SHOW": spans})
    path = tmp_path / "one.csv"
    write_loads(replace(puppet, loads=(load,)), path)
    read = read_loads(path, replace(puppet, loads=()))
    if read.problems:
        pytest.fail(str(read.problems))
    assert read.loads[0].patterns.get("SHOW", ()) == spans
    assert read.loads[0].name == load.name.strip()
    assert pattern_text(spans).count("-") == len(spans)


BAD = """tag,name,how many,Watts,supply,duty,power factor,must_run,winter,standby,cycle_min,day Show day,colour,circuit
LDA,Kettle,2,1.5 kW,AC,0.4,0.95,yes,50 %,350 mW,10,08:00-08:10; 12:00-12:30 @50%,red,
LDB,Oven,1,-5,L9,140 %,2,perhaps,-1,x,0,25:00-26:00,,CK9
LDA,,1.5,40 kg,AC,0,1,no,1,0,5,10:00-09:00,
LDC,=HYPERLINK(1),1,1e9,12 V,50%,1,x,,,,10:00-11:00; 10:30-12:00,
A1,Axle's own tag,1,10,AC,1,1,,,,,08:00 to 09:00,
LDD,Level,1,10,AC,1,1,,,,,08:00-09:00 @150%,
"""


def test_every_bad_row_is_told_with_column_and_reason(tmp_path, puppet):
    read = read_loads(table(tmp_path / "bad.csv", BAD), puppet)
    found = {(one.row, one.column): one.why for one in read.problems}
    assert read.rows == 6 and read.passed_over == ("colour",)
    assert {row for row, _ in found} == {3, 4, 5, 6, 7}
    assert {column for row, column in found if row == 3} == {
        "running_w",
        "supply",
        "duty",
        "power_factor",
        "must_run",
        "winter",
        "standby_w",
        "cycle_min",
        "day SHOW",
        "circuit",
    }
    assert {column for row, column in found if row == 4} == {"tag", "name", "count", "running_w", "duty", "day SHOW"}
    for key, words in {
        (3, "running_w"): "at least 0",
        (3, "duty"): "at most 1",
        (3, "supply"): "no such supply",
        (3, "must_run"): "yes or no",
        (3, "day SHOW"): "outside the day",
        (3, "circuit"): "no circuit",
        (4, "tag"): "row 2 has the same tag",
        (4, "name"): "needs a name",
        (4, "count"): "whole number",
        (4, "running_w"): "not a power",
        (4, "duty"): "at least 0.0001",
        (5, "running_w"): "at most 1000000",
        (5, "day SHOW"): "overlaps",
        (6, "tag"): "something else in the job",
        (6, "day SHOW"): "not a stretch",
        (7, "day SHOW"): "at most 100 %",
    }.items():
        assert words.lower() in found[key].lower(), (key, found[key])
    (kettle,) = [one for one in read.loads if one.tag == "LDA"]
    assert (kettle.count, kettle.running_w, kettle.standby_w, kettle.seasons.winter) == (2, 1500.0, 0.35, 0.5)
    assert kettle.patterns["SHOW"] == (Span(480, 490, 1.0), Span(720, 750, 0.5)) and kettle.must_run


def test_what_a_table_does_not_say_stays_as_it_was(tmp_path, puppet):
    read = read_loads(table(tmp_path / "t.csv", "tag;name;running_w\nLD1;Stage lights;65,5\n;New lamp;12\n"), puppet)
    assert read.problems == ()
    assert read.loads[0] == replace(puppet.loads[0], running_w=65.5)
    assert read.loads[1].tag == "LD9" and read.loads[1].supply == "leg_open" and read.loads[1].power_factor == 1


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252"])
def test_encodings_and_delimiters(tmp_path, puppet, encoding):
    for delimiter in (",", ";", "\t"):
        text = delimiter.join(("Name", "Watts")) + "\r\n" + delimiter.join(("Café", "12")) + "\r\n\r\n"
        assert read_loads(table(tmp_path / "t.csv", text, encoding), puppet).loads[0].name == "Café"


def test_formulas_stay_text(tmp_path, puppet):
    """OWASP, CSV injection: cells that begin with = + - @ tab or return are marked (recalled)."""
    for index, name in enumerate(("=cmd|' /C calc'!A0", "+1", "-1", "@SUM(A1)", "'quoted")):
        job = replace(puppet, loads=(replace(puppet.loads[0], name=name, note="=1+1"),))
        for ending in ("csv", "xlsx"):
            path = tmp_path / f"{index}.{ending}"
            write_loads(job, path)
            if ending == "csv":
                rows = list(csv.reader(path.read_text(encoding="utf-8-sig").splitlines()))
                assert not any(cell[:1] in ("=", "+", "-", "@") for row in rows for cell in row)
            else:
                sheet = openpyxl.load_workbook(path).active
                assert not any(cell.data_type == "f" for row in sheet.iter_rows() for cell in row)
            assert read_loads(path, puppet).loads == job.loads


def _sheet(path, rows):
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    book.save(path)
    return path


def test_a_long_table_is_answered_with_a_sentence(tmp_path, puppet):
    rows = [["name", "running_w"], *([f"Lamp {n}", 5] for n in range(10_000))]
    csv_path = table(tmp_path / "long.csv", "\n".join(f"{a},{b}" for a, b in rows))
    with pytest.raises(TableError, match=r"10,000 rows; a job holds 400 loads at most\. Nothing was taken in"):
        read_loads(csv_path, puppet)
    with pytest.raises(TableError, match=r"10,000 rows"):
        read_loads(_sheet(tmp_path / "long.xlsx", rows), puppet)
    with pytest.raises(TableError, match=f"it holds {MOST_LOADS} at most"):
        read_loads(table(tmp_path / "t.csv", "\n".join(f"{a},{b}" for a, b in rows[:395])), puppet)


@pytest.mark.parametrize(
    ("name", "raw", "words"),
    [
        ("empty.csv", b"", "is empty"),
        ("blank.csv", b"\n , \n", "is empty"),
        ("no.csv", b"what,ever\n1,2\n", "no column name and no column running_w"),
        ("twice.csv", b"name,Watts,power\nx,1,2\n", "two columns for power"),
        ("binary.csv", b"\x00\x01name", "not a table of text"),
        ("torn.xlsx", b"PK\x03\x04rubbish", "not a workbook"),
        ("text.xlsx", b"name,running_w", "not a workbook"),
        ("gone.csv", None, "cannot be read"),
        ("huge.csv", b"x" * (9 * 2**20), "at most 8 MB"),
        ("quote.csv", b'name,running_w\n"' + b"x" * 200_000, "not a table that can be read"),
    ],
)
def test_files_of_no_use_get_a_sentence(tmp_path, puppet, name, raw, words):
    path = tmp_path / name
    if raw is not None:
        path.write_bytes(raw)
    with pytest.raises(TableError, match=words):
        read_loads(path, puppet)


def test_workbooks_that_lie_are_refused(tmp_path, puppet):
    bomb = tmp_path / "bomb.xlsx"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as container:
        container.writestr("xl/worksheets/sheet1.xml", b" " * (130 * 2**20))
    with pytest.raises(TableError, match="unpacks to more than 128 MB"):
        read_loads(bomb, puppet)
    odd = _sheet(
        tmp_path / "odd.xlsx",
        [
            ["name", "running_w", "must_run", "count"],
            ["Lamp", 12.5, True, 2.0],
            [None, None, None, None],
            ["", "", "", ""],
        ],
    )
    read = read_loads(odd, puppet)
    assert (
        isinstance(read, LoadsRead)
        and read.rows == 1
        and (read.loads[0].running_w, read.loads[0].must_run, read.loads[0].count) == (12.5, True, 2)
    )


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=60)
@given(
    st.binary(max_size=400)
    | st.text(max_size=300).map(
        lambda text: ("name,running_w,duty,supply,day Show day\n" + text).encode("utf-8", "replace")
    )
)
def test_any_bytes_end_in_loads_or_sentences(tmp_path, puppet, raw):
    path = tmp_path / "fuzz.csv"
    path.write_bytes(raw)
    try:
        read = read_loads(path, puppet)
    except TableError as error:
        assert str(error).startswith("fuzz.csv")
        return
    assert len(read.loads) + len({one.row for one in read.problems}) == read.rows
    assert all(one.why.endswith(".") for one in read.problems)
    if read.loads:
        assert problems(add_load(read.loads[0]).apply(replace(puppet, loads=()))) == []


# ---- library -------------------------------------------------------------------------------------------------


def test_the_library_holds_ordinary_appliances(clinic, puppet):
    rows = appliances().rows
    assert len(rows) >= 60 and len({one.name for one in rows}) == len(rows)
    for one in rows:
        assert "recalled" in one.note or "common practice, no source" in one.note, one.name
        for job, two_legs in ((clinic, True), (puppet, False)):
            made = load_of(one, "LDX", job.inverters, patterns={})
            assert problems(add_load(made).apply(job)) == [], one.name
            assert appliance_of(made) == one or (one.supply == "AC_240" and not two_legs)


def test_trade_facts_of_the_survey():
    """Manual values, common practice, no source."""
    rows = {one.name: one for one in appliances().rows}
    assert rows["Roof air conditioner, common size"].running_w == 1200
    assert 2500 <= rows["Coffee machine, one group"].running_w <= 2800
    assert 700 <= rows["Pie oven"].running_w <= 800
    assert 500 <= rows["Water heater on demand, small"].running_w <= 3500
    assert rows["Cafe fridge, glass door"].running_w == 300
    assert rows["LED ceiling light"].running_w == pytest.approx(0.4 * 12)


def test_a_box_that_idles_can_eat_a_quarter_of_its_battery(puppet):
    """Common practice, no source: a small box with a large no-load draw; in this sum, 30 W over a day against 2.9
    kWh.
    """
    day = derive(
        replace(
            puppet, loads=(), inverters=replace(puppet.inverters, spec=replace(puppet.inverters.spec, no_load_w=30.0))
        )
    ).brief.days["SHOW"]
    assert day.bank_energy_wh.value == day.no_load_energy_wh.value == 720
    assert pytest.approx(0.25, abs=0.01) == 720 / (25.6 * 112)


def test_own_additions_are_kept_for_later_jobs(tmp_path, puppet):
    path = tmp_path / "own" / "appliances.json"
    assert read_own(path) == ()
    made = appliance_of(replace(puppet.loads[3], name="Glue press"))
    keep_own(path, made)
    keep_own(path, appliance_of(puppet.loads[0]))
    keep_own(path, Appliance(**{**{f: getattr(made, f) for f in made.__struct_fields__}, "running_w": 900.0}))
    assert [(one.name, one.running_w) for one in read_own(path)] == [
        (puppet.loads[0].name, 60.0),
        ("Glue press", 900.0),
    ]
    path.write_text('[{"name": 3}]')
    with pytest.raises(ValueError, match="cannot be read"):
        keep_own(path, made)
    assert path.read_text() == '[{"name": 3}]', "a damaged file is not overwritten"


# ---- vehicle types and the sheet -----------------------------------------------------------------------------


@pytest.mark.parametrize("kind", vehicle_types().rows, ids=lambda one: one.key)
def test_a_first_job_of_every_type_is_sound(kind, clinic):
    job = first_job(kind)
    assert problems(job) == []
    design = derive(job)
    assert not [one for one in judge(design) if one.rule.severity == "stop"]
    assert {way.start for way in kind.vehicle.ways} | {way.end for way in kind.vehicle.ways} <= {
        bay.tag for bay in kind.vehicle.bays
    } | {"ROOF", "CAB"}
    moved = take_type(kind).apply(clinic)
    assert moved.vehicle == kind.vehicle and moved.roof.modules == clinic.roof.modules and problems(moved) == []


@pytest.mark.parametrize("blank", [True, False])
@pytest.mark.parametrize("name", ["library-bus", "puppet-theatre"])
def test_the_survey_sheet(tmp_path, name, blank):
    job = jobs.plain(name)
    path = write_survey_sheet(derive(job), tmp_path / "s.pdf", blank=blank, today=date(2026, 5, 1), system="metric")
    text = (
        " ".join(page.extract_text() for page in pypdf.PdfReader(path).pages).replace("\n", " ").replace("\u00a0", " ")
    )
    for part in (
        "Axles and weighbridge",
        "Roof: hatches",
        "Bays",
        "Wire ways",
        "Sockets",
        "Equipment on board",
        "Loads",
        "Stays through the year",
    ):
        assert part in text, part
    assert "licensed trades outrank it" in text and "proved dead" in text
    for said in (job.name, job.vehicle.bays[0].name, job.loads[0].name):
        assert (said in text) != blank, said
    if name == "library-bus":
        assert ("EX4" in text and "Saltmere and islands" in text and "taken" in text) != blank
        assert "Each bay, door open, with a rule" in text


def test_the_columns_are_all_of_a_load(puppet):
    own = {field for field in puppet.loads[0].__struct_fields__ if field not in ("seasons", "patterns")} | {
        "winter",
        "spring",
        "summer",
        "autumn",
    }
    assert set(FIELDS) == own
