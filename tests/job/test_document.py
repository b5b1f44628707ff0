"""Job files: round trips, old versions, hostile hands, interrupted saves, the journal."""

from __future__ import annotations

import fcntl
import io
import itertools
import json
import os
import random
import zipfile
from pathlib import Path

import jsonschema
import msgspec
import pytest

from tests import jobs
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack, set_pack_count
from weighty_axle.job.edits.brief import add_load, paint, painted
from weighty_axle.job.edits.edit import Edit, EditRefusedError, move, set_value
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.edits.roof import turn_module
from weighty_axle.job.files import journal, store
from weighty_axle.job.models.brief import ALL_YEAR, Load, Span
from weighty_axle.job.models.versions import FORMAT_VERSION
from weighty_axle.job.tags import next_tag
from weighty_axle.reference import tables


@pytest.mark.parametrize("suffix", [".axle", ".json"])
@pytest.mark.parametrize("name", ["clinic", "puppet"])
def test_a_saved_job_reads_back_the_same(tmp_path, request, name, suffix):
    job = request.getfixturevalue(name)
    path = tmp_path / f"job{suffix}"
    store.save(job, path)
    first = path.read_bytes()
    assert store.load(path) == job
    store.save(job, path)
    assert path.read_bytes() == first
    assert sorted(p.name for p in tmp_path.iterdir()) == [path.name, path.name + "~"]


def test_published_schema_is_the_one_in_force_and_holds_for_the_demos(clinic, puppet):
    published = json.loads(Path("docs/job.schema.json").read_text())
    assert published == json.loads(json.dumps(store.schema()))
    for job in (clinic, puppet):
        jsonschema.Draft202012Validator(published).validate(json.loads(store.encode(job)))


def test_a_version_1_file_is_brought_up_to_date(puppet):
    """Version 1 kept 24 hourly levels a day; made for the purpose from the demo."""
    document = json.loads(store.encode(puppet))
    document["format_version"] = 1
    for load in document["loads"]:
        load.pop("patterns")
        load["hours"] = {"SHOW": [0] * 9 + [1, 1, 0.5] + [0] * 12}
    job = store.decode(json.dumps(document).encode())
    assert job.format_version == store.FORMAT_VERSION
    assert job.loads[0].patterns == {"SHOW": (Span(540, 660, 1.0), Span(660, 720, 0.5))}
    document["loads"][0]["hours"] = 7
    with pytest.raises(JobError, match="cannot be brought up to date"):
        store.decode(json.dumps(document).encode())


@pytest.mark.parametrize(("demo", "expected"), [("puppet", "DC_24"), ("clinic", "DC_48")])
def test_a_version_2_file_learns_the_voltage_of_its_dc_loads(request, demo, expected):
    """Version 2 said bank or converter; the bank's class and 12 V follow."""
    document = json.loads(store.encode(request.getfixturevalue(demo)))
    document["format_version"] = 2
    for key in ("stays", "existing", "survey", "draw"):
        document.pop(key)
    document["loads"] = [
        {k: v for k, v in load.items() if k not in ("seasons", "group", "start_s", "cycle_min", "note")}
        for load in document["loads"][:2]
    ]
    for load, supply in zip(document["loads"], ("DC", "DC_low"), strict=True):
        load["supply"] = supply
    job = store.decode(json.dumps(document).encode())
    assert [load.supply for load in job.loads] == [expected, "DC_12"]
    assert job.loads[0].seasons == ALL_YEAR and job.stays == ()


def _zip(*members: tuple[str, bytes], lie: bool = False) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as container:
        for name, data in members:
            container.writestr(name, data)
    raw = out.getvalue()
    return raw.replace(b"job.json", b"job.jsoN", 1) if lie else raw


def test_a_document_of_version_four_states_the_same_in_the_present_one(clinic):
    """As a program of version 4 wrote it: alternator chargers are converters from the vehicle's bar into the house's,
    and what they give and take is what it was.
    """
    raw = (Path(jobs.__file__).parent / "old" / "eye-clinic-4.json").read_bytes()
    document = json.loads(raw)
    old = document["charging"]["alternator_chargers"]
    array = {
        "tag": "RA1",
        "name": "Awning array",
        "controller": "CC1",
        "towards_deg": 135.0,
        "module": document["roof"]["module"],
    }
    document["roof"]["remote"] = [array]
    job = store.decode(json.dumps(document).encode())
    assert [one.tag for one in job.converters] == [one["tag"] for one in old]
    assert {(one.start, one.end, one.works) for one in job.converters} == {("VEHICLE", "", "engine")}
    assert [one.spec.output_w for one in job.converters] == [one["spec"]["output_w"] for one in old]
    assert job.roof.remote[0].azimuth_deg == 135.0 and job.format_version == FORMAT_VERSION
    # 3 x 1000 W / 48 V into the bank; 3 x 1000 W / 0.92 / 28 V out of the alternator.
    design = derive(store.decode(raw))
    engine = next(part for mix in design.charging.mixes for part in mix.parts if part.name == "Alternator")
    assert engine.value == pytest.approx(3000 / 48)
    assert design.budgets[0].asked_a.value == pytest.approx(3000 / 0.92 / 28)
    assert store.decode(raw) == clinic


def test_a_document_of_version_five_states_the_same_in_the_present_one():
    """As a program of version 5 wrote it: its one alternator has a tag that nothing else has, on the bar it was on; a
    load that charged the bank charges the house bar.
    """
    document = json.loads((Path(jobs.__file__).parent / "old" / "library-bus-5.json").read_bytes())
    old = document["charging"]["alternator"]
    ac, dc = (next(one for one in document["loads"] if one["supply"].startswith("DC") is on) for on in (False, True))
    ac["charges_bank"] = dc["charges_bank"] = True  # on DC that said nothing
    dc["tag"] = "AL1"
    job = store.decode(json.dumps(document).encode())
    (one,) = job.charging.alternators
    assert (one.tag, one.bar, one.rated_a, one.hot_share, one.low_v) == (
        "AL2",
        document["charging"]["alternator_bar"],
        old["rated_a"],
        old["hot_share"],
        None,
    )
    assert [load.charges for load in job.loads if load.charges] == [job.wiring.board.tag]
    assert (job.stages, job.charging.system_limit_a) == ((), document["charging"]["system_limit_a"])
    design = derive(job)
    assert design.budgets[0].spare.spare_a["cruise"].value == pytest.approx(
        old["rated_a"] * old["hot_share"] - old["vehicle_a"]
    )


def test_the_schema_asks_for_what_the_reader_asks_for(clinic):
    """A document that says neither what it is nor of what version is refused by both."""
    document = json.loads(store.encode(clinic))
    validator = jsonschema.Draft202012Validator(store.schema())
    assert not list(validator.iter_errors(document))
    for name in ("format", "format_version"):
        without = {key: value for key, value in document.items() if key != name}
        assert any(name in error.message for error in validator.iter_errors(without))
        with pytest.raises(JobError):
            store.decode(json.dumps(without).encode())


GOOD = b'{"format": "weighty-axle job", "format_version": 2'
HOSTILE = {
    "empty": (b"", "not readable JSON"),
    "not json": (b"\x00\x01", "not readable JSON"),
    "not ours": (b'{"format": "other"}', "not a Weighty Axle job"),
    "a list": (b"[1]", "not a Weighty Axle job"),
    "NaN": (GOOD + b', "name": NaN}', "not readable JSON"),
    "infinity": (GOOD + b', "name": Infinity}', "not readable JSON"),
    "huge number": (GOOD + b', "name": 1e999}', "not readable JSON"),
    "deep": (GOOD + b', "name": ' + b"[" * 100_000 + b"]" * 100_000 + b"}", "nested too deeply"),
    "newer": (b'{"format": "weighty-axle job", "format_version": 99}', "newer program"),
    "version of no kind": (b'{"format": "weighty-axle job", "format_version": true}', "not a version number"),
    "too large": (GOOD + b" " * (9 * 2**20) + b"}", "larger than 8 MB"),
    "bad utf-8": (GOOD + b', "name": "\xff\xfe"}', "not readable JSON"),
    "bomb": (_zip(("job.json", b" " * (200 * 2**20))), "more than 8 MB"),
    "escape": (_zip(("../../evil", b"x"), ("job.json", b"{}")), "leads outside"),
    "absolute": (_zip(("/etc/evil", b"x"), ("job.json", b"{}")), "leads outside"),
    "backslash": (_zip(("..\\evil", b"x"), ("job.json", b"{}")), "leads outside"),
    "no job": (_zip(("readme", b"x")), "holds no job.json"),
    "many": (_zip(*((f"f{n}", b"") for n in range(5001))), "at most 5000"),
    "cut off": (_zip(("job.json", b"{}" * 500))[:60], "damaged"),
    "name changed": (_zip(("job.json", b"{}"), lie=True), "damaged"),
}


@pytest.mark.parametrize("case", HOSTILE)
def test_hostile_files_are_refused_with_a_sentence(tmp_path, case):
    raw, words = HOSTILE[case]
    path = tmp_path / "job.axle"
    path.write_bytes(raw)
    with pytest.raises(JobError, match=words):
        store.load(path)
    assert path.read_bytes() == raw


def test_missing_file_and_folder_are_refused(tmp_path):
    for path in (tmp_path, tmp_path / "none.axle"):
        with pytest.raises(JobError):
            store.load(path)


def test_every_problem_is_listed_with_its_place(puppet):
    document = json.loads(store.encode(puppet))
    document["loads"][2]["running_w"] = -5
    document["loads"][3]["duty"] = 1.5
    document["loads"][4]["supply"] = "L9"
    document["bank"]["packs"][1]["place"]["x_m"] = "far"
    document["vehicle"]["colour"] = "red"
    del document["site"]["home"]
    with pytest.raises(JobError) as caught:
        store.decode(json.dumps(document).encode())
    places = {problem.place for problem in caught.value.problems}
    assert {
        "loads[2].running_w",
        "loads[3].duty",
        "loads[4].supply",
        "bank.packs[1].place.x_m",
        "vehicle",
        "site",
    } <= places


MEANING = {
    "tag twice": ("loads[LD2].tag", "LD1", "used twice"),
    "shares": ("vehicle.axles[A2].share", 0.5, "100 %"),
    "wheel base": ("vehicle.axles[A1].x_m", 9.0, "ahead of"),
    "group empty": ("vehicle.axles[A1].group", "rear", "front group"),
    "heights": ("vehicle.floor_m", 4.0, "rise"),
    "bay": ("vehicle.bays[B1].end_m", 1.0, "ends before"),
    "unknown day": ("loads[LD1].patterns[NOPE]", (), "no day kind"),
    "overlap": ("loads[LD1].patterns[SHOW]", (Span(0, 100, 1.0), Span(50, 200, 1.0)), "without overlap"),
    "grouping": ("bank.series", 3, "cannot be grouped"),
    "cells": ("bank.spec.cell_min_v", 3.4, "Cell voltages"),
    "all packs out": (
        "bank.packs",
        tuple(msgspec.structs.replace(pack, out=True) for pack in jobs.plain("puppet-theatre").bank.packs),
        "stay in service",
    ),
    "efficiency": ("inverters.spec.full_load_efficiency", 0.97, "exceed the peak"),
    "surge": ("inverters.spec.surge_va", 100.0, "Surge"),
    "dc range": ("inverters.spec.dc_min_v", 60.0, "lowest DC"),
    "roof": ("roof.end_m", 0.0, "roof ends"),
    "vmp": ("roof.module.vmp_v", 40.0, "below Voc"),
    "imp": ("roof.module.imp_a", 14.0, "below Isc"),
    "string": ("roof.modules[PV1].string", "S9", "no string"),
    "controller": ("roof.strings[S1].controller", "CC9", "no controller"),
    "temperature": ("site.record_low_c", 50.0, "record low"),
    "negative watts": ("loads[LD1].running_w", -1.0, "at least 0"),
    "duty over 1": ("loads[LD1].duty", 1.2, "at most 1"),
    "past midnight": ("loads[LD1].patterns[SHOW]", (Span(0, 1500, 1.0),), "1440"),
    "rising Voc": ("roof.module.voc_per_c", 0.003, "at most -0.00001"),
}


@pytest.mark.parametrize("case", MEANING)
def test_meaningless_jobs_are_refused(puppet, case):
    path, value, words = MEANING[case]
    found = problems(set_value(path, value, "").apply(puppet))
    assert found and any(words in str(one) for one in found), found


def test_a_failing_save_leaves_the_old_file_whole(tmp_path, monkeypatch, clinic, puppet):
    path = tmp_path / "job.axle"
    store.save(clinic, path)
    for name in ("replace", "fsync"):
        with monkeypatch.context() as broken:
            broken.setattr(os, name, lambda *_: (_ for _ in ()).throw(OSError(28, "No space left on device")))
            with pytest.raises(OSError, match="No space"):
                store.save(puppet, path)
        assert store.load(path) == clinic
        assert not list(tmp_path.glob("*.part"))
    with pytest.raises(JobError):
        store.save(set_value("bank.series", 5, "").apply(clinic), path)
    assert store.load(path) == clinic


def test_what_else_is_in_the_container_is_carried_over(tmp_path, clinic, puppet):
    path = tmp_path / "job.axle"
    store.save(clinic, path)
    with zipfile.ZipFile(path, "a") as container:
        container.writestr("photos/board.jpg", b"picture")
    store.save(puppet, path, carry_from=path)
    with zipfile.ZipFile(path) as container:
        assert container.read("photos/board.jpg") == b"picture"
    assert store.load(path) == puppet
    assert store.load(tmp_path / "job.axle~") == clinic


# ---- edits ----


def _random_edit(job, dice: random.Random) -> Edit:
    start = dice.randrange(0, 1400, 5)
    return dice.choice(
        [
            paint(
                dice.choice(job.loads),
                dice.choice(job.day_kinds).tag,
                start,
                min(1440, start + dice.randrange(5, 400)),
                dice.choice([0.0, 0.5, 1.0]),
            ),
            set_pack_count(dice.randrange(1, 12) * job.bank.series),
            move((dice.choice(job.bank.packs).tag,), dx_m=dice.uniform(-1, 1)),
            turn_module(dice.choice(job.roof.modules).tag),
            set_stacking(dice.choice(["split_phase", "legs_in_phase"])),
            add_load(
                Load(
                    tag=next_tag(job, "load"),
                    name="One more",
                    supply="L1",
                    running_w=dice.uniform(0, 3000),
                    power_factor=1.0,
                )
            ),
            set_pack(dice.choice([one for one in tables.packs().rows if one.cells_in_series == 16]), 1),
        ]
    )


@pytest.mark.parametrize("seed", range(3))
def test_any_run_of_edits_gives_sound_jobs_that_share_what_did_not_change(clinic, seed):
    dice, job = random.Random(seed), clinic
    for _ in range(60):
        changed = _random_edit(job, dice).apply(job)
        assert problems(changed) == []
        assert changed.vehicle is job.vehicle and changed.site is job.site
        job = changed
    assert store.decode(store.encode(job)) == job


def test_painting_against_a_minute_by_minute_brush():
    dice, spans, minutes = random.Random(4), (), [0.0] * 1440
    for _ in range(300):
        start, end = sorted(dice.sample(range(0, 1441, 5), 2))
        level = dice.choice([0.0, 0.3, 1.0])
        spans = painted(spans, start, end, level)
        minutes[start:end] = [level] * (end - start)
        drawn = [0.0] * 1440
        for span in spans:
            drawn[span.start_min : span.end_min] = [span.level] * (span.end_min - span.start_min)
        assert drawn == minutes
        assert all(a.end_min < b.start_min or a.level != b.level for a, b in itertools.pairwise(spans))


def test_unknown_paths_are_refused_in_a_sentence(clinic):
    for path in ("bank.colour", "loads[LD99].running_w", "loads[LD99]", "vehicle.axles[[A1]"):
        with pytest.raises(EditRefusedError, match="This job has no"):
            set_value(path, 1.0, "").apply(clinic)


# ---- journal ----


def _header(n: int) -> journal.Header:
    return journal.Header("/somewhere/job.axle", n, f"edit {n}", 1000.0 + n)


def test_the_last_whole_record_is_recovered_from_a_torn_log(tmp_path, clinic, puppet):
    kept = journal.Journal(tmp_path)
    kept.record(clinic, _header(1))
    kept.record(puppet, _header(2))
    assert journal.left_behind(tmp_path) == []  # still running: its lock is held
    log = (kept.folder / "edits.log").read_bytes()
    fcntl.flock(kept._lock, fcntl.LOCK_UN)
    for cut in (len(log), len(log) - 1, len(log) - 40):
        (kept.folder / "edits.log").write_bytes(log[:cut])
        (found,) = journal.left_behind(tmp_path)
        assert found.job == (puppet if cut >= len(log) - 1 else clinic), cut
    broken = bytearray(log)
    broken[-30] ^= 0xFF
    (kept.folder / "edits.log").write_bytes(bytes(broken))
    (found,) = journal.left_behind(tmp_path)
    assert found.job == clinic and found.header.unsaved_edits == 1
    kept.close()
    assert journal.left_behind(tmp_path) == [] and [one.name for one in tmp_path.iterdir()] == ["count"]


def test_a_journal_of_saved_work_is_cleared_away(tmp_path, clinic):
    kept = journal.Journal(tmp_path)
    kept.record(clinic, _header(0))
    fcntl.flock(kept._lock, fcntl.LOCK_UN)
    assert journal.left_behind(tmp_path) == [] and [one.name for one in tmp_path.iterdir()] == ["count"]
    kept.close()


def test_the_log_starts_afresh_before_it_grows_without_end(tmp_path, monkeypatch, clinic):
    monkeypatch.setattr(journal, "_START_AFRESH_BYTES", 20_000)
    kept = journal.Journal(tmp_path)
    for n in range(1, 40):
        kept.record(clinic, _header(n))
        assert (kept.folder / "edits.log").stat().st_size < 40_000
    fcntl.flock(kept._lock, fcntl.LOCK_UN)
    (found,) = journal.left_behind(tmp_path)
    assert found.header.unsaved_edits == 39
    kept.close()


def test_tables_and_choices_of_the_model_agree(clinic):
    """The model names the tables' keys; both must list the same."""
    shapes = msgspec.json.schema(type(clinic))["$defs"]["Wiring"]["properties"]
    assert set(shapes["ampacity_table"]["enum"]) == set(tables.ampacity_tables())
    assert set(shapes["main_fuse"]["enum"]) == set(tables.fuse_kinds())
    offered = {
        insulation for table in tables.ampacity_tables().values() for row in table.rows for insulation in row.amps
    }
    assert set(shapes["insulation_c"]["enum"]) == offered
