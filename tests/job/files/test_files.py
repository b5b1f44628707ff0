"""Nothing lost: scenes of disks, links, containers, journals, tables and prints that attacks found."""

from __future__ import annotations

import csv
import io
import os
import stat
import subprocess
import sys
import threading
import zipfile
from datetime import date

import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.letters import unprintable_words
from weighty_axle.exports.pack import InTheWayError, write_pack
from weighty_axle.exports.pages.cards import NoSelectorError, write_selector_cards
from weighty_axle.exports.tables.cells import safe_text
from weighty_axle.exports.tables.loads import write_loads
from weighty_axle.exports.tables.loads_read import TableError, read_loads
from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import set_value, value_at
from weighty_axle.job.files import container, journal, store
from weighty_axle.job.files import disk as files
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing, tidy
from weighty_axle.rules.judge import judge

DAY = date(2026, 3, 1)


# ---- one file ------------------------------------------------------------------------------------------------


def test_a_link_stays_a_link_and_modes_are_kept(tmp_path, puppet, clinic):
    real, link = tmp_path / "far" / "job.axle", tmp_path / "job.axle"
    real.parent.mkdir()
    old = os.umask(0o027)
    try:
        store.save(puppet, real)
        assert stat.S_IMODE(real.stat().st_mode) == 0o640, "a new file follows the umask"
        link.symlink_to(real)
        real.chmod(0o604)
        store.save(clinic, link)
    finally:
        os.umask(old)
    assert link.is_symlink() and store.load(real) == clinic and stat.S_IMODE(real.stat().st_mode) == 0o604
    assert store.load(real.with_name("job.axle~")) == puppet


@pytest.mark.parametrize("kind", ["pipe", "folder", "device", "long name", "NUL in the name", "gone"])
def test_what_is_no_plain_file_is_refused_in_time(tmp_path, kind):
    path = tmp_path / "job.axle"
    if kind == "pipe":
        os.mkfifo(path)
    elif kind == "folder":
        path.mkdir()
    elif kind == "device":
        path = files.Path("/dev/zero")
    elif kind == "long name":
        path = tmp_path / ("x" * 300 + ".axle")
    elif kind == "NUL in the name":
        path = tmp_path / "a\0b"
    for refused in (lambda: store.load(path), lambda: read_whole(path, 1000, "a table")):
        told: list[BaseException] = []

        def run(read=refused, told=told):
            try:
                read()
            except (JobError, UnreadableError) as error:
                told.append(error)

        thread = threading.Thread(target=run, daemon=True)
        thread.start()
        thread.join(5)
        assert told and str(told[0]).endswith((".", ").")), "a sentence, and soon"


def test_a_name_of_250_bytes_saves_or_says_why(tmp_path, puppet):
    path = tmp_path / ("ż" * 122 + ".axle")
    assert len(path.name.encode()) == 249
    store.save(puppet, path)
    store.save(puppet, path)
    assert store.load(path) == puppet and len(list(tmp_path.iterdir())) <= 2
    with pytest.raises(OSError, match="File name too long"):
        store.save(puppet, tmp_path / ("x" * 260 + ".axle"))


def test_what_can_be_saved_can_be_opened(tmp_path, puppet):
    """Large jobs lose the spaces of their text before they are refused; what would not open again is not saved."""
    spans = tuple((at, at + 2, 0.123456789) for at in range(0, 1440, 5))
    patterns = {kind.tag: spans for kind in puppet.day_kinds}
    day = store.decode(store.encode(puppet).replace(b"\n", b" "))
    load = replace(
        day.loads[0],
        patterns={
            tag: tuple(type(day.loads[0].patterns["SHOW"][0])(*one) for one in several)
            for tag, several in patterns.items()
        },
    )
    for count, fits in ((150, True), (400, False)):
        job = replace(puppet, loads=tuple(replace(load, tag=f"Z{n}", note="x" * 2000) for n in range(count)))
        if not fits:
            job = replace(job, day_kinds=tuple(replace(puppet.day_kinds[0], tag=f"K{n}") for n in range(12)), stays=())
            job = replace(
                job,
                loads=tuple(
                    replace(one, patterns={f"K{n}": one.patterns["SHOW"] for n in range(12)}) for one in job.loads
                ),
            )
        if fits:
            store.save(job, tmp_path / "large.json")
            assert store.load(tmp_path / "large.json") == job
        else:
            with pytest.raises(JobError, match="opened again"):
                store.save(job, tmp_path / "too.json")
            assert not (tmp_path / "too.json").exists()


def test_a_file_of_another_hand_is_noticed(tmp_path, puppet, clinic):
    path = tmp_path / "job.axle"
    stamp = store.save(puppet, path)
    assert not store.changed_since(path, stamp)
    os.utime(path, (1, 1))
    assert not store.changed_since(path, stamp), "touched only: the content counts"
    store.save(clinic, path)
    assert store.changed_since(path, stamp) and store.changed_since(path, None)
    path.unlink()
    assert not store.changed_since(path, stamp), "nothing to overwrite"


def test_strays_of_a_crash_are_tidied_and_those_at_work_left(tmp_path):
    dead = tmp_path / ".weighty-axle-999999999-aa.part"
    dead.write_text("half")
    with replacing(tmp_path / "whole") as file:
        file.write(b"x")
        tidy(tmp_path)
        assert len(list(tmp_path.glob("*.part"))) == 1, "the one being written"
    assert [one.name for one in tmp_path.iterdir()] == ["whole"]


# ---- containers ----------------------------------------------------------------------------------------------


def _with_photos(path, job, *members: tuple[str, bytes]):
    store.save(job, path)
    with zipfile.ZipFile(path, "a", zipfile.ZIP_DEFLATED) as made:
        for name, raw in members:
            made.writestr(name, raw)


def test_photos_are_carried_packed_byte_for_byte(tmp_path, puppet, clinic):
    path, photo = tmp_path / "job.axle", bytes(range(256)) * 400
    _with_photos(path, puppet, ("photos/a.jpg", photo), ("photos/żółw.jpg", b"y" * 10), ("logs/1.csv", b""))
    before = {one.filename: (one.CRC, one.compress_size) for one in zipfile.ZipFile(path).infolist()}
    store.save(clinic, path, carry_from=path)
    with zipfile.ZipFile(path) as made:
        assert (
            made.testzip() is None and made.read("photos/a.jpg") == photo and made.read("photos/żółw.jpg") == b"y" * 10
        )
        assert {
            name: after
            for name, after in ((one.filename, (one.CRC, one.compress_size)) for one in made.infolist())
            if name != "job.json"
        } == {name: was for name, was in before.items() if name != "job.json"}
    assert store.load(path) == clinic
    store.save(clinic, tmp_path / "again.axle", carry_from=path)
    assert zipfile.ZipFile(tmp_path / "again.axle").read("photos/a.jpg") == photo


@pytest.mark.parametrize("harm", ["data", "offset", "directory", "no container"])
def test_damage_among_the_photos_never_keeps_a_job_from_being_saved(tmp_path, puppet, clinic, harm):
    path = tmp_path / "job.axle"
    _with_photos(path, puppet, ("photos/a.jpg", os.urandom(500)), ("photos/b.jpg", b"sound" * 50))
    raw = bytearray(path.read_bytes())
    if harm == "data":
        raw[raw.index(b"photos/a.jpg") + 40] ^= 0xFF
    elif harm == "offset":
        at = raw.index(b"PK\x01\x02", raw.rindex(b"photos/a.jpg") - 60)
        raw[at + 42 : at + 46] = (2**31).to_bytes(4, "little")
    elif harm == "directory":
        raw[raw.index(b"PK\x01\x02")] ^= 0xFF
    else:
        raw[4:] = b"rubbish"
    path.write_bytes(bytes(raw))
    store.save(clinic, path, carry_from=path)
    assert store.load(path) == clinic
    kept = path.with_name("job.axle.damaged")
    if harm == "data":
        assert not kept.exists() and "photos/a.jpg" in zipfile.ZipFile(path).namelist(), (
            "what its own reader must judge is carried as it is"
        )
    else:
        assert kept.read_bytes() == bytes(raw), "what could not be carried stays beside"
    if harm in ("data", "offset"):
        assert zipfile.ZipFile(path).read("photos/b.jpg") == b"sound" * 50


def test_photos_are_never_unpacked_to_judge_a_job(tmp_path, puppet, monkeypatch):
    path = tmp_path / "job.axle"
    _with_photos(path, puppet, ("photos/a.jpg", b"\0" * (64 * limits.MB)))
    opened = []
    real = zipfile.ZipFile.open
    monkeypatch.setattr(
        zipfile.ZipFile,
        "open",
        lambda self, member, *rest, **more: (
            opened.append(getattr(member, "filename", member)),
            real(self, member, *rest, **more),
        )[1],
    )
    store.save(store.load(path), path, carry_from=path)
    assert set(opened) == {container.JOB_MEMBER}


# ---- journal -------------------------------------------------------------------------------------------------


def _header(path, unsaved=1, **more):
    return journal.Header(str(path), unsaved, "Edit", 1e9, **more)


def _left(root, job, header):
    """A journal whose program is gone."""
    kept = journal.Journal(root)
    kept.record(job, header)
    kept._let_go()
    return kept


def test_only_what_is_newer_than_its_file_is_offered_newest_first(tmp_path, puppet):
    root, path = tmp_path / "journal", tmp_path / "job.axle"
    base, edited, later = puppet, replace(puppet, notes="edited"), replace(puppet, notes="later")
    store.save(base, path)
    bases = (journal.digest_of(base),)
    _left(root, edited, _header(path, bases=bases))
    (found,) = journal.left_behind(root)
    assert found.job == edited and not found.stale
    store.save(edited, path)
    assert journal.left_behind(root) == [], "saved, and killed before it could say so"
    store.save(base, path)
    first = _left(root, edited, _header(path, bases=bases))
    _left(root, later, _header(path, bases=bases))
    assert [one.job.notes for one in journal.left_behind(root)] == ["later", "edited"], (
        "by count: both say the same time"
    )
    _left(root, later, _header(path, bases=bases, follows=first.folder.name))
    assert first.folder.name not in {one.folder.name for one in journal.left_behind(root)}, "recovered and gone on with"


def test_work_older_than_a_file_saved_by_others_is_put_aside_and_not_offered_over_it(tmp_path, puppet):
    root, path = tmp_path / "state" / "journal", tmp_path / "job.axle"
    store.save(replace(puppet, notes="by another window"), path)
    _left(root, replace(puppet, notes="mine"), _header(path, bases=(journal.digest_of(puppet),)))
    (found,) = journal.left_behind(root)
    assert found.stale
    aside = journal.put_aside(found)
    assert store.load(aside).notes == "mine" and journal.left_behind(root) == []


def test_a_full_disk_tears_no_record_and_the_next_one_is_kept(tmp_path, puppet, monkeypatch):
    kept = journal.Journal(tmp_path)
    kept.record(puppet, _header("", 1))
    real = os.write

    def full(handle, data):
        if len(data) < 1000:
            return real(handle, data)
        real(handle, data[:700])
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "write", full)
    with pytest.raises(OSError, match="No space"):
        kept.record(replace(puppet, notes="lost"), _header("", 2))
    monkeypatch.setattr(os, "write", real)
    kept.record(replace(puppet, notes="kept"), _header("", 3))
    kept._let_go()
    (found,) = journal.left_behind(tmp_path)
    assert found.job.notes == "kept"


def test_the_journal_is_private_and_made_again_when_taken_away(tmp_path, puppet):
    kept = journal.Journal(tmp_path / "journal")
    assert kept.record(puppet, _header("")) is False
    assert (
        stat.S_IMODE(kept.folder.stat().st_mode) == 0o700
        and stat.S_IMODE((kept.folder / "edits.log").stat().st_mode) == 0o600
    )
    journal.discard(kept.folder)
    assert kept.record(puppet, _header("")) is True
    kept._let_go()
    assert len(journal.left_behind(tmp_path / "journal")) == 1


# ---- tags and numbers ----------------------------------------------------------------------------------------


@pytest.mark.parametrize("tag", ["A.B", "A\n", "A]", "1A", "", "x" * 13, "A B", "Ä"])
def test_one_grammar_of_tags_at_every_door(tmp_path, puppet, tag):
    assert any(
        "tag is a letter" in one.message or "empty" in one.message or "at most 12" in one.message
        for one in problems(set_value("wiring.board.tag", tag, "").apply(puppet))
    )
    raw = store.encode(puppet).replace(b'"tag": "DB1"', b'"tag": "%s"' % tag.encode().replace(b"\n", b"\\n"))
    with pytest.raises(JobError):
        store.decode(raw)
    path = tmp_path / "loads.csv"
    path.write_text(f'tag,name,running_w\n"{tag}",Lamp,5\n')
    read = read_loads(path, puppet)
    assert read.problems or read.loads[0].tag != tag


def test_a_point_within_brackets_is_part_of_a_name(puppet):
    changed = set_value("settings.own_values[INV1.absorb.v]", 56.0, "").apply(puppet)
    assert value_at(changed, "settings.own_values[INV1.absorb.v]") == 56.0
    assert (
        set_value("settings.own_values[INV1.absorb.v]", None, "").apply(changed).settings.own_values
        == puppet.settings.own_values
    )


@pytest.mark.parametrize("value", [5e-324, 1e-300, 1e-12, -1e-20])
def test_numbers_of_nearly_nothing_are_refused_at_their_field(puppet, value):
    (found, *_) = problems(set_value("loads[LD1].standby_w", abs(value), "").apply(puppet))
    assert found.place == "loads[0].standby_w" and "0 or at least" in found.message
    assert problems(set_value("loads[LD1].standby_w", 0.0, "").apply(puppet)) == []


# ---- tables and prints ---------------------------------------------------------------------------------------


def test_no_cell_of_any_table_is_a_formula_and_letters_survive_a_spreadsheet(tmp_path, clinic):
    """OWASP, CSV injection (recalled): = + - @ tab and return at the start."""
    job = set_value("ac.circuits[CK1].name", "=HYPERLINK(1)", "").apply(clinic)
    job = replace(job, ac=replace(job.ac, panels=tuple(replace(one, name="+Łódź") for one in job.ac.panels)))
    job = replace(
        job,
        loads=(replace(job.loads[0], name="@żółw", note="'=1", circuit=""), *job.loads[1:]),
        bank=replace(job.bank, spec=replace(job.bank.spec, name="-2+3")),
    )
    design = derive(job)
    write_pack(design, judge(design), tmp_path, today=DAY, system="metric")
    write_loads(job, tmp_path / "loads.csv")
    tables = sorted(tmp_path.glob("*.csv"))
    assert len(tables) == 15
    for path in tables:
        raw = path.read_bytes()
        assert raw.startswith(b"\xef\xbb\xbf"), path.name
        rows = list(csv.reader(io.StringIO(raw.decode("utf-8-sig"), newline="")))
        cells = [cell for row in rows for cell in row if cell[:1] in ("=", "+", "-", "@", "\t", "\r")]
        assert all(_is_number(cell) for cell in cells), (path.name, cells[:3])
    assert read_loads(tmp_path / "loads.csv", job).loads == job.loads
    assert safe_text("'=x") == "''=x" and safe_text("'x") == "'x"


def _is_number(cell: str) -> bool:
    try:
        float(cell)
    except ValueError:
        return False
    return True


@pytest.mark.parametrize("name", ["Łódź, żółty wóz", "Işık ğüzeli", "Київська бібліотека"])
def test_the_customers_letters_are_in_print(tmp_path, puppet, name):
    job = replace(puppet, name=name)
    design = derive(job)
    pdf = write_pack(design, judge(design), tmp_path, today=DAY, system="metric")[0]
    text = " ".join(page.extract_text() for page in pypdf.PdfReader(pdf).pages)
    assert name in text and "¤" not in text and unprintable_words(job) == ""


def test_letters_no_font_has_are_told_once(tmp_path, puppet, capsys):
    job = replace(puppet, name="眼科 <b>bus</b> &amp; \x1b", customer="眼")
    assert unprintable_words(job).count("眼") == 1 and "U+773C" in unprintable_words(job)
    store.save(job, tmp_path / "j.json")
    assert main(["pack", str(tmp_path / "j.json"), "-o", str(tmp_path / "out")]) == 0
    assert "U+773C" in capsys.readouterr().err
    text = pypdf.PdfReader(tmp_path / "out" / "pack.pdf").pages[0].extract_text()
    assert "<b>bus</b> &amp;" in text and "¤¤" in text


@pytest.mark.parametrize(
    ("path", "value"),
    [
        ("vehicle.roof_m", 34.5),
        ("vehicle.length_m", 1.37),
        ("vehicle.axles[A1].x_m", -39.0),
        ("notes", "x" * 2000),
        ("loads[LD1].name", "w" * 80),
    ],
)
def test_a_slipped_size_or_a_long_text_still_prints(tmp_path, puppet, path, value):
    design = derive(set_value(path, value, "").apply(puppet))
    assert pypdf.PdfReader(write_pack(design, judge(design), tmp_path, today=DAY, system="metric")[0]).pages


def test_the_pack_writes_over_its_own_files_only_and_through_no_link(tmp_path, puppet, clinic):
    design, other = derive(puppet), derive(clinic)
    write_pack(design, judge(design), tmp_path, today=DAY, system="metric")
    write_pack(design, judge(design), tmp_path, today=DAY, system="us")
    with pytest.raises(InTheWayError, match=r"items\.csv.*another job.*Nothing was written"):
        write_pack(other, judge(other), tmp_path, today=DAY, system="metric")
    store.save(clinic, tmp_path / "c.axle")
    assert main(["pack", str(tmp_path / "c.axle"), "-o", str(tmp_path)]) == 2
    precious = tmp_path / "elsewhere.txt"
    precious.write_text("precious")
    (tmp_path / "items.csv").unlink()
    (tmp_path / "items.csv").symlink_to(precious)
    assert main(["pack", str(tmp_path / "c.axle"), "-o", str(tmp_path), "--over"]) == 0
    assert precious.read_text() == "precious" and not (tmp_path / "items.csv").is_symlink()


def test_a_disk_that_fills_up_leaves_no_cut_pack(tmp_path, puppet, monkeypatch):
    design = derive(puppet)
    write_pack(design, judge(design), tmp_path, today=DAY, system="metric")
    whole = (tmp_path / "pack.pdf").read_bytes()

    def full(_handle):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        write_pack(design, judge(design), tmp_path, today=date(2027, 1, 1), system="us")
    assert (tmp_path / "pack.pdf").read_bytes() == whole and not list(tmp_path.glob(".*"))


def test_a_card_of_a_selector_that_is_not_there_is_a_sentence(tmp_path, puppet, capsys):
    with pytest.raises(NoSelectorError, match=r"no selector.*\.$"):
        write_selector_cards(derive(puppet), tmp_path / "c.pdf", today=DAY)
    assert main(["card", "demo:puppet-theatre", "--selector", "-o", str(tmp_path / "c.pdf")]) == 2
    assert "no selector" in capsys.readouterr().err


def test_a_table_that_is_far_too_wide_is_refused(tmp_path, puppet):
    path = tmp_path / "wide.csv"
    path.write_text("name,running_w" + "," * 200_000 + "\nLamp,5\n")
    with pytest.raises(TableError, match="far longer than the heading"):
        read_loads(path, puppet)


# ---- terminals and homes -------------------------------------------------------------------------------------


def _run(*arguments: str, **environment: str):
    kept = {name: value for name, value in os.environ.items() if name in ("PATH", "PYTHONPATH", "TMPDIR")}
    return subprocess.run(
        [sys.executable, "-m", "weighty_axle", *arguments],
        capture_output=True,
        timeout=60,
        env={**kept, **environment},
        check=False,
    )


@pytest.mark.parametrize("arguments", [(), ("demo",), ("some.axle",)])
def test_without_a_display_it_says_so(arguments):
    done = _run(*arguments, DISPLAY=":987", HOME="/nonexistent")
    assert (
        done.returncode == 2
        and b"no display" in done.stderr
        and b"--help" in done.stderr
        and b"Traceback" not in done.stderr
    )


@pytest.mark.parametrize(
    ("arguments", "meant"), [(("chek",), "check"), (("pakc", "x"), "pack"), (("--frobnicate",), ""), (("qqqqqq",), "")]
)
def test_an_unknown_command_is_answered_with_the_near_one(arguments, meant, capsys):
    assert main(list(arguments)) == 2
    told = capsys.readouterr().err
    assert (
        "no command or file" in told
        and "--help" in told
        and (f"Did you mean '{meant}'" in told if meant else "Did you mean" not in told)
    )


@pytest.mark.parametrize("encoding", ["ascii", "latin-1", "utf-8"])
def test_output_is_readable_in_any_encoding_and_open_data_is_utf_8(tmp_path, puppet, encoding):
    store.save(replace(puppet, name="Łódź − Ω 眼"), tmp_path / "żółw.json")
    path = str(tmp_path / "żółw.json")
    done = _run("derive", path, PYTHONIOENCODING=encoding, LC_ALL="C")
    assert done.returncode == 0 and not done.stderr
    text = done.stdout.decode(encoding)
    assert "bank.usable_energy_wh" in text and ("mohm" in text if encoding == "ascii" else True)
    done = _run("derive", path, "--json", PYTHONIOENCODING=encoding, LC_ALL="C")
    assert "Łódź − Ω 眼" in done.stdout.decode("utf-8")
    assert _run("check", path, PYTHONIOENCODING=encoding, LC_ALL="C").returncode in (0, 1)
