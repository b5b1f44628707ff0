"""Fleet, rescue and swap: thousands of files as they come and go, damage of every kind, a unit for another."""

from __future__ import annotations

import json
import random
import zipfile
from datetime import UTC, date, datetime
from pathlib import Path

import icalendar
import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.data.calendar import services_ics
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.build import cut_made
from weighty_axle.job.edits.edit import EditRefusedError, value_at
from weighty_axle.job.files.store import decode, encode, load, save
from weighty_axle.job.models.build import CutDone
from weighty_axle.job.models.document import items
from weighty_axle.job.models.log import Log, LogEntry, Service
from weighty_axle.job.models.proving import Handover
from weighty_axle.job.stated import Place
from weighty_axle.reference.own_types import typical
from weighty_axle.rules.judge import judge
from weighty_axle.studies.fleet import Fleet, asked, judged, look_into
from weighty_axle.studies.rescue import RescueError, rescue
from weighty_axle.studies.swap import spec_path, swap, swap_lines

# ---- fleet ----


@pytest.fixture
def folder(tmp_path):
    """Three vehicles, one of them in a folder below, one file that is no job, one that is damaged."""
    home = tmp_path / "jobs"
    (home / "older").mkdir(parents=True)
    coach, theatre = demos.demo("eye-clinic"), demos.demo("puppet-theatre")
    services = (
        Service(name="Tighten, twice", every_months=12, last_on="2027-02-01", about=("DB1",)),
        Service(name="Wash"),
    )
    fault = LogEntry(kind="fault", on="2027-05-20", words="Fuse holder hot", about=("DB1",))
    save(replace(coach, log=Log(entries=(fault,), services=services)), home / "coach.axle")
    over = replace(theatre.proving, handover=Handover(on="2027-01-12"))
    save(replace(theatre, proving=over, log=Log()), home / "older" / "theatre.json")
    save(replace(demos.demo("library-bus"), log=Log(services=services[:1])), home / "bus.json")
    (home / "damaged.axle").write_bytes((home / "coach.axle").read_bytes()[:900])
    (home / "notes.txt").write_text("no job")
    return home


def _looked(fleet):
    for _ in fleet.refresh():
        pass
    return {one.file.name: one for one in fleet.found()}


def test_a_folder_is_a_fleet_with_state_services_faults_and_findings(folder, tmp_path):
    fleet = Fleet(folder, tmp_path / "index.sqlite")
    first = fleet.found()
    assert {one.file.name for one in first} == {"coach.axle", "theatre.json", "bus.json", "damaged.axle"}
    assert not any(one.read for one in first)  # names at once, the rest as it is read
    rows = _looked(fleet)
    coach, theatre = rows["coach.axle"], rows["theatre.json"]
    assert (coach.state, theatre.state) == ("fault", "handed over")
    assert coach.open_faults == ("Fuse holder hot (open)",) and coach.next_service.name == "Wash"
    findings = judge(derive(load(coach.file)))
    assert (coach.stops, coach.checks) == tuple(
        sum(one.rule.severity == severity for one in findings) for severity in ("stop", "check")
    )
    assert "damaged" in rows["damaged.axle"].wrong and rows["damaged.axle"].stops is None
    assert rows["bus.json"].next_service.on == "2028-02-01"


def test_what_has_changed_come_or_gone_is_seen_and_nothing_else_is_read_again(folder, tmp_path, monkeypatch):
    fleet = Fleet(folder, tmp_path / "index.sqlite")
    _looked(fleet)
    looked = []
    monkeypatch.setattr(
        "weighty_axle.studies.fleet.look_into", lambda row: looked.append(row.file.name) or look_into(row)
    )
    (folder / "bus.json").unlink()
    job = load(folder / "coach.axle")
    save(replace(job, name="Renamed"), folder / "coach.axle")
    rows = _looked(Fleet(folder, tmp_path / "index.sqlite"))
    assert looked == ["coach.axle"] and rows["coach.axle"].name == "Renamed"
    assert "bus.json" not in rows
    (tmp_path / "index.sqlite").write_bytes(b"no index at all" * 100)
    assert _looked(Fleet(folder, tmp_path / "index.sqlite"))["coach.axle"].name == "Renamed"
    # Another folder's files are none of its business.
    assert Fleet(folder / "older", tmp_path / "index.sqlite").found()[0].read
    with pytest.raises(OSError, match="none"):
        Fleet(folder / "none", tmp_path / "index.sqlite").found()


def test_a_file_that_vanishes_while_it_is_read_is_told(folder):
    row = next(one for one in Fleet(folder, folder / "x.sqlite").found() if one.file.name == "bus.json")
    read = look_into(row)
    (folder / "bus.json").unlink()
    assert "cannot be read" in look_into(row).wrong and "cannot be read" in judged(read).wrong


@pytest.mark.parametrize(
    ("question", "names"),
    [
        ("heated rack pack 48", {"coach.axle", "bus.json"}),
        ("PUPPET", {"theatre.json"}),
        ("state:fault", {"coach.axle"}),
        ("state:handed", {"theatre.json"}),
        ("fuse holder", {"coach.axle"}),
        ("due:2028-02", {"coach.axle", "bus.json"}),
        ("due:2027", {"coach.axle"}),
        ("", {"coach.axle", "theatre.json", "bus.json", "damaged.axle"}),
    ],
)
def test_questions_over_all_jobs(folder, tmp_path, question, names):
    rows = tuple(_looked(Fleet(folder, tmp_path / "index.sqlite")).values())
    assert {one.file.name for one in asked(rows, question)} == names


def test_services_for_calendars_pages_for_people_and_data_for_programs(folder, tmp_path, capsys):
    """The calendar is read by another library: whole days, and the very words."""
    assert main(["fleet", str(folder), "--json"]) == 0
    data = {Path(one["file"]).name: one for one in json.loads(capsys.readouterr().out)}
    assert data["coach.axle"]["next_service"] == {"name": "Wash", "on": None} and data["damaged.axle"]["wrong"]
    assert (
        main(
            ["fleet", str(folder), "--ask", "due:2028", "--ics", str(tmp_path / "s.ics"), "-o", str(tmp_path / "f.pdf")]
        )
        == 0
    )
    events = icalendar.Calendar.from_ical((tmp_path / "s.ics").read_bytes()).walk("VEVENT")
    days = {str(one["SUMMARY"]): (one.decoded("DTSTART"), one.decoded("DTEND")) for one in events}
    assert days["Marram Library Bus: Tighten, twice"] == (date(2028, 2, 1), date(2028, 2, 2))
    assert len({str(one["UID"]) for one in events}) == len(events) == 3
    pages = [page.extract_text() for page in pypdf.PdfReader(tmp_path / "f.pdf").pages]
    assert len(pages) == 2 and any("Fuse holder hot" in page and "never done" in page for page in pages)
    assert main(["fleet", str(folder), "--ask", "state:fault"]) == 0
    assert "1 open faults" in capsys.readouterr().out
    assert main(["fleet", str(folder / "nowhere")]) == 2
    assert services_ics((), datetime(2027, 1, 1, tzinfo=UTC)).startswith(b"BEGIN:VCALENDAR")


def test_processes_beside_this_one_find_the_same(folder, tmp_path):
    here = _looked(Fleet(folder, tmp_path / "one.sqlite"))
    apart = Fleet(folder, tmp_path / "two.sqlite")
    for _ in apart.refresh(apart=True):
        pass
    assert {one.file.name: one for one in apart.found()} == here


# ---- rescue ----


def _damaged(raw: bytes, how: str, drawn: random.Random) -> bytes:
    at = drawn.randrange(len(raw) // 10, len(raw))
    if how == "cut off":
        return raw[:at]
    if how == "a hole":
        return raw[:at] + raw[at + drawn.randrange(1, 200) :]
    return raw[:at] + bytes(drawn.randrange(256) for _ in range(4)) + raw[at + 4 :]


@pytest.mark.parametrize("how", ["cut off", "a hole", "wrong bytes"])
@pytest.mark.parametrize("kind", ["plain", "container"])
def test_of_a_damaged_file_as_much_as_can_be_is_saved_and_the_file_is_left_alone(tmp_path, how, kind):
    drawn = random.Random(f"{how} {kind}")
    saved = 0
    for at, name in enumerate(demos.names() * 5):
        job, path = demos.demo(name), tmp_path / f"{at}.axle"
        save(job, path) if kind == "container" else path.write_bytes(encode(job))
        path.with_name(path.name + "~").unlink(missing_ok=True)
        raw = _damaged(path.read_bytes(), how, drawn)
        path.write_bytes(raw)
        try:
            found = rescue(path)
        except RescueError as error:
            assert str(error)
            continue
        finally:
            assert path.read_bytes() == raw
        saved += 1
        assert not problems(found.job) and derive(found.job)
        if found.job != job:
            assert found.told and found.job.log.entries[-1].words.startswith("Rescued from the damaged file")
            assert any(one.rule.id == "log.fault-open" for one in judge(derive(found.job)))
    assert saved >= (9 if kind == "container" else 14)


def test_a_whole_file_loses_nothing_and_a_damaged_list_loses_its_entry(tmp_path, capsys):
    job = demos.demo("eye-clinic")
    path, out = tmp_path / "job.json", tmp_path / "saved.axle"
    path.write_bytes(encode(job))
    assert main(["rescue", str(path), "-o", str(out)]) == 0 and load(out) == job
    document = json.loads(encode(job))
    document["loads"][2]["running_w"] = "lots"
    document["roof"]["modules"][5]["string"] = "S99"
    del document["vehicle"]
    path.write_text(json.dumps(document))
    assert main(["rescue", str(path), "-o", str(out)]) == 1
    told = capsys.readouterr().err
    assert "loads[2]" in told and "Vehicle: lost" in told and "S99" in told
    again = load(out)
    assert [one.tag for one in again.loads] == [one.tag for one in job.loads if one.tag != job.loads[2].tag]
    assert again.bank == job.bank
    assert main(["rescue", str(path), "-o", str(path)]) == 2


@pytest.mark.parametrize(
    ("raw", "words"),
    [
        (b"", "too little|whole enough|could be"),
        (b"PK\x03\x04 nothing", "holds no job.json"),
        (b'{"format": "something else", "bank": {}}', "no job of this program"),
        (b"[1, 2, 3]", "no job of this program"),
    ],
)
def test_what_is_no_job_is_not_made_one(tmp_path, raw, words):
    path = tmp_path / "x.axle"
    path.write_bytes(raw)
    with pytest.raises(RescueError, match=words):
        rescue(path)


def test_a_newer_file_is_not_rescued_and_photos_come_along(tmp_path):
    job = demos.demo("puppet-theatre")
    path = tmp_path / "job.axle"
    text = encode(job)
    with zipfile.ZipFile(path, "w") as made:
        made.writestr("job.json", text.replace(b'"tag": "LD1"', b'"tag": 7', 1))
        made.writestr("photos/0123456789abcdef.jpg", b"picture")
    assert main(["rescue", str(path), "-o", str(tmp_path / "out.axle")]) == 1
    with zipfile.ZipFile(tmp_path / "out.axle") as made:
        assert made.read("photos/0123456789abcdef.jpg") == b"picture"
        assert decode(made.read("job.json")).vehicle == job.vehicle
    document = json.loads(text) | {"format_version": 999}
    path.write_text(json.dumps(document))
    with pytest.raises(RescueError, match="newer"):
        rescue(path)


# ---- swap ----


@pytest.fixture(scope="module")
def coach():
    return derive(demos.demo("eye-clinic"))


def test_a_unit_at_another_place_has_leads_that_are_too_short_by_what_its_route_takes(coach):
    old = coach.job.roof.controllers[0].spec
    there = next(one.place for one in items(coach.whole) if one.tag == "CC1")
    place = Place(x_m=there.x_m - 1.5, y_m=there.y_m, z_m=there.z_m)
    found = swap(coach, "CC1", old, place=place)
    before = {one.tag: one.cut_m.value for one in cuts(coach)}
    after = {one.tag: one.cut_m.value for one in cuts(derive(found.after))}
    assert found.leads and all(one.needs_m == after[one.tag] and one.has_m == before[one.tag] for one in found.leads)
    short = [one for one in found.leads if one.short_m]
    assert {"W-CC1 +", "W-CC1 −"} <= {one.tag for one in short}
    assert all(one.short_m == pytest.approx(after[one.tag] - before[one.tag]) for one in short)
    assert sum("too short" in one for one in found.must) == len(short)
    # A lead that was cut longer than the list wanted reaches after all.
    lead = short[0]
    job = cut_made(CutDone(conductor=lead.tag, size="6 AWG", length_m=lead.needs_m)).apply(coach.whole)
    again = next(one for one in swap(derive(job), "CC1", old, place=place).leads if one.tag == lead.tag)
    assert again.cut and not again.short_m


@pytest.mark.parametrize("tag", ["INV1", "CC1", "BP1", "ALT1"])
def test_each_kind_of_unit_is_compared_and_swapped_in_one_step_that_is_written_down(coach, tag):
    old = value_at(coach.whole, spec_path(coach.whole, tag))
    for new in (one for one in typical(type(old)) if one != old):
        found = swap(coach, tag, new, on="2027-06-01", by="TK")
        assert tag in found.together and found.differs and found.must
        assert next(iter(swap_lines(found))).endswith(f"{new.name} for {old.name}")
        made = found.edit.apply(coach.whole)
        assert not problems(made) and replace(made, log=coach.whole.log) == found.after
        assert made.log.entries[-1].kind == "parts" and new.name in made.log.entries[-1].words
        assert {one.id for one in found.came} <= {one.id for one in judge(derive(found.after))}
        heavier = sum(one.mass_kg for one in items(found.after)) - sum(one.mass_kg for one in items(coach.whole))
        said = [one for one in found.must if one.endswith("all together: fixings and axles.")]
        assert bool(said) == (abs(heavier) > 0.05)


def test_what_cannot_be_swapped_says_so(coach):
    inverter = value_at(coach.whole, spec_path(coach.whole, "INV1"))
    with pytest.raises(EditRefusedError, match="is no controller"):
        swap(coach, "CC1", inverter)
    with pytest.raises(EditRefusedError, match="no datasheet"):
        swap(coach, "DB1", inverter)
    same = swap(coach, "INV1", inverter)
    assert not same.differs and not same.came and not same.moved
