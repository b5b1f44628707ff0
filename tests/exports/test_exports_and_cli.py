"""The pack, the tables and the command line."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
from datetime import date
from math import exp

import pypdf
import pytest
from msgspec.structs import replace

from tests import jobs, plants
from weighty_axle import demos
from weighty_axle.answers.charging.filling import filling, state_named
from weighty_axle.answers.roof.sunny import home
from weighty_axle.answers.roof.yields import sun_yield
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.data.figures import design_data, working_lines
from weighty_axle.exports.drawings.long_section import long_section
from weighty_axle.exports.pack import write_pack
from weighty_axle.exports.pages.cards import write_inlet_card, write_selector_cards
from weighty_axle.exports.pages.cover import CAUTIONS
from weighty_axle.exports.tables.design import TABLES, circuits_csv, items_csv, states_csv
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.files import store
from weighty_axle.job.models.inverters import Contact, Position, Selector
from weighty_axle.rules.judge import judge
from weighty_axle.units import show


def _plain(text: str) -> str:
    return " ".join(text.replace("\u00a0", " ").split())


@pytest.mark.parametrize(("name", "system"), [("clinic", "metric"), ("puppet", "us"), ("library_bus", "us")])
def test_the_pack_says_what_the_design_says(tmp_path, request, name, system):
    job = request.getfixturevalue(name)
    design = derive(job)
    findings = judge(design)
    told = []
    paths = write_pack(
        design,
        findings,
        tmp_path,
        today=date(2026, 5, 1),
        system=system,
        progress=lambda share, words: told.append((share, words)),
    )
    pages = [_plain(page.extract_text()) for page in pypdf.PdfReader(paths[0]).pages]
    text = " ".join(pages)
    assert 2 <= len(pages) <= 55
    assert all(job.name in page and "help for competent people" in page for page in pages)
    assert all(_plain(line) in text for line in CAUTIONS)
    for finding in findings:
        assert _plain(finding.sentence(system)) in text
    for axle in design.place.axles:
        assert _plain(show(axle.load_kg.value, "kg", system)) in text
    for one in all_settings(design):
        assert _plain(one.words) in text and one.shown in text
    assert [share for share, _ in told] == sorted(share for share, _ in told) and told[-1][0] == 1.0
    assert {path.name for path in paths} == {
        "pack.pdf",
        "runs.csv",
        "cables.csv",
        "fuses.csv",
        "single-line.svg",
        "single-line.dxf",
        "items.csv",
        "settings.csv",
        "readings.csv",
        "handover.json",
        "circuits.csv",
        "states.csv",
        "dc_circuits.csv",
        "converters.csv",
        "parts.csv",
        "parts.xlsx",
        "cuts.csv",
        "reels.csv",
        "plan.csv",
        "plan.ics",
        "labels.pdf",
        "labels.svg",
        "design.json",
        "findings.json",
    }


def _pack_text(job, folder):
    design = derive(job)
    paths = write_pack(design, judge(design), folder, today=date(2026, 5, 1), system="metric")
    return design, _plain(" ".join(page.extract_text() for page in pypdf.PdfReader(paths[0]).pages))


def test_the_pack_tells_the_year_what_is_on_board_and_the_bank(tmp_path, library_bus):
    """Every stay with its energy, every piece of old equipment with what to do, every consumer's feed, every string and
    port.
    """
    design, text = _pack_text(library_bus, tmp_path / "whole")
    results = {one.tag: one for one in design.itinerary.stays}
    assert library_bus.stays and library_bus.existing
    for stay in library_bus.stays:
        assert stay.place in text and _plain(show(results[stay.tag].energy_per_day_wh.value, "Wh")) in text
    for profile in design.brief.profiles.values():
        assert _plain(show(profile.bank_wh, "Wh")) in text, profile.key
    advice = [one.rule.advice for one in judge(design) if one.tags and one.tags[0].startswith("EX")]
    for one in library_bus.existing:
        assert f"{one.tag} {_plain(one.name)[:12]}" in text
    assert sum(_plain(words) in text for words in set(advice)) >= 6
    for feed in design.equipment.feeds:
        assert feed.consumer in text and _plain(feed.through) in text
    for string in design.bank.sharing.strings:
        assert (
            " ".join(string.tags) in text and f"{100 * string.share * len(design.bank.sharing.strings):.1f} %" in text
        )
    assert "terminator" in text and "(master)" in text and _plain(design.voltages.reason) in text
    bare = replace(library_bus, stays=(), existing=())
    _, text = _pack_text(bare, tmp_path / "bare")
    assert "The year" not in text and "On board already" not in text, "no heading stands over nothing"


def test_the_pack_and_cards_tell_the_ac_side_and_the_roof(tmp_path, library_bus, clinic):
    """Every source with its limit, circuit, selector step, string, isolator and label; the card command writes both
    cards.
    """
    design, text = _pack_text(clinic, tmp_path / "clinic")
    for source, row in zip(clinic.inverters.sources, design.sources, strict=True):
        assert (
            _plain(source.name)[:16] in text
            and _plain(show(min(source.limit_a, row.recommended_limit_a.value), "A")) in text
        )
    for circuit in clinic.ac.circuits:
        assert circuit.name[:12] in text
    for string in design.roof.strings:
        assert ", ".join(string.modules) in text
    year = sun_yield(design, home(design))
    assert " ".join(f"{one.day_wh.value / 1000:.1f}" for one in year.months) in text
    assert " ".join(f"{one.clear_day_wh / 1000:.1f}" for one in year.months) in text
    assert f"Port Ansel, {_plain(show(year.year_wh.value, 'Wh'))} a year; shade takes 11 %" in text
    _, uncounted = _pack_text(set_value("roof.losses.shade", 1.0, "").apply(clinic), tmp_path / "uncounted")
    assert "shade is not counted" in uncounted
    _, bare = _pack_text(replace(clinic, roof=replace(clinic.roof, strings=(), modules=())), tmp_path / "bare")
    assert "A day gives" not in bare and "Two-pole DC isolator" not in bare, "no table stands over nothing"
    assert "Two-pole DC isolator" in text and "live in light" in text and "Main isolator, bay 2" in text
    design, text = _pack_text(add_remote("CC1").apply(library_bus), tmp_path / "bus")
    assert (
        "To In phase" in text
        and "Configure every inverter with both legs in phase" in text
        and "Array elsewhere" in text
    )
    for arguments, words in (
        (["demo:eye-clinic"], "Before plugging in"),
        (["demo:library-bus", "--selector"], "Stacking selector"),
    ):
        assert main(["card", *arguments, "-o", str(tmp_path / "card.pdf")]) == 0
        assert words in " ".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "card.pdf").pages)
    assert (
        main(["card", "demo:eye-clinic", "--selector", "-o", str(tmp_path / "none.pdf")]) == 2
        and not (tmp_path / "none.pdf").exists()
    )


def test_circuits_and_states_as_tables(clinic):
    design = derive(clinic)
    circuits = list(csv.DictReader(io.StringIO(circuits_csv(design).decode("utf-8-sig"))))
    assert [row["tag"] for row in circuits] == [one.tag for one in clinic.ac.circuits] and float(
        circuits[0]["breaker_a"]
    ) == 20
    states = list(csv.DictReader(io.StringIO(states_csv(design).decode("utf-8-sig"))))
    assert len(states) == len(design.states.states) and sum(bool(row["wrong"]) for row in states) == 4
    data = design_data(design)
    assert len(data["ac_states"]) == len(states) and data["ac_states"][0]["panels"]["MAIN"]["lines"] == []


def test_tables_hold_everything_once_and_no_formulas(clinic):
    design = derive(set_value("fittings[TK1].name", "=HYPERLINK(1)", "").apply(clinic))
    rows = list(csv.DictReader(io.StringIO(items_csv(design).decode("utf-8-sig"))))
    tags = [row["tag"] for row in rows]
    assert len(set(tags)) == len(tags) == len(design.items) + len(clinic.roof.modules)
    assert sum(float(row["mass_kg"]) for row in rows) == pytest.approx(design.place.added_kg.value)
    assert next(row for row in rows if row["tag"] == "TK1")["name"] == "'=HYPERLINK(1)"
    table = TABLES["settings.csv"](design).decode("utf-8-sig")
    settings = {row["key"]: row for row in csv.DictReader(io.StringIO(table))}
    assert float(settings["CC1 absorption_v"]["value"]) == 56.0 and settings["CC1 absorption_v"]["of"] == "V"


def test_a_working_reads_as_lines(clinic):
    lines = working_lines(derive(clinic).bank.days)
    assert lines[0].startswith("Days without sun or hook-up: 0.94")
    assert any("usable energy ÷" in line for line in lines) and lines[-1].startswith("Source:")


def test_the_long_section_shows_every_item_and_axle(clinic, puppet):
    for job in (clinic, puppet):
        section = long_section(derive(job))
        tags = {shape.tag for shape in section.shapes}
        assert tags >= {item.tag for item in derive(job).items} | {one.tag for one in job.roof.modules} | {
            axle.tag for axle in job.vehicle.axles
        }
        assert all(section.left_m - 1 < x < section.right_m + 1 for shape in section.shapes for x, _ in shape.points)
        assert [mark.load_kg for mark in section.axles] == [axle.load_kg.value for axle in derive(job).place.axles]


# ---- command line ----


def _findings(out: str) -> list[dict[str, object]]:
    """The JSON after the plain text of an earlier command."""
    found: list[dict[str, object]] = json.loads(out[out.index("\n[") :])
    return found


def test_commands_without_a_window(tmp_path, capsys, puppet):
    assert main(["demos"]) == 0
    assert capsys.readouterr().out.split() == ["eye-clinic", "library-bus", "puppet-theatre"]
    assert main(["derive", "demo:eye-clinic", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["figures"]["bank.nominal_energy_wh"]["value"] == pytest.approx(30_720)
    assert data["runs"]["W-MAIN"]["conductor"] == "4/0 AWG"
    assert main(["derive", "demo:puppet-theatre"]) == 0
    assert "bank.usable_energy_wh" in capsys.readouterr().out
    path = tmp_path / "theatre.axle"
    store.save(puppet, path)
    assert main(["check", str(path)]) == 0
    assert main(["check", "demo:eye-clinic", "--json"]) == 1
    assert [one["severity"] for one in _findings(capsys.readouterr().out)][:2] == ["stop", "stop"]
    assert main(["pack", str(path), "-o", str(tmp_path / "out")]) == 0
    assert (tmp_path / "out" / "pack.pdf").stat().st_size > 10_000
    assert main(["schema"]) == 0


def test_filling_without_a_window(capsys):
    """One state as a curve, all of them as times; a state or share there is none of is said in a sentence."""
    assert main(["fill", "demo:eye-clinic", "--mix", "sun, P50", "--from", "20%", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    (state,) = data["states"]
    design = derive(demos.demo("eye-clinic"))
    found = filling(design, state_named(design, "P50, sun"), 0.2)
    assert state["hours_h"] == pytest.approx(found.hours_h.value) and state["ended"] == "full"
    assert state["time_h"][-1] == pytest.approx(state["hours_h"]) and len(state["soc"]) == len(state["voltage_v"])
    assert main(["fill", "demo:eye-clinic", "--loads"]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert len(lines) == sum(bool(one.parts) for one in design.source_states.states) and "never" in lines[1]
    assert main(["fill", "demo:eye-clinic", "--mix", "P50", "--to", "80%"]) == 0
    assert "80.0%" in capsys.readouterr().out
    for wrong, words in (
        (["--mix", "P51"], "There is no state"),
        (["--from", "lots"], "lots"),
        (["--system", "X"], "X"),
    ):
        assert main(["fill", "demo:eye-clinic", *wrong]) == 2
        assert words in capsys.readouterr().err


def test_the_survey_sheet_and_the_derived_brief_without_a_window(tmp_path, capsys, library_bus):
    filled, blank = tmp_path / "sheets" / "filled.pdf", tmp_path / "sheets" / "blank.pdf"
    assert main(["survey", "demo:library-bus", "-o", str(filled)]) == 0
    assert main(["survey", "demo:library-bus", "-o", str(blank), "--blank"]) == 0
    texts = [_plain(" ".join(page.extract_text() for page in pypdf.PdfReader(path).pages)) for path in (filled, blank)]
    assert library_bus.loads[0].name in texts[0] and library_bus.loads[0].name not in texts[1]
    capsys.readouterr()
    assert main(["derive", "demo:library-bus", "--json"]) == 0
    data, design = json.loads(capsys.readouterr().out), derive(demos.demo("library-bus"))
    assert set(data["place"]["axles"]) == {axle.tag for axle in library_bus.vehicle.axles}
    assert set(data["place"]["loose"]) == set(design.holds.loose) != set()
    assert {feed["consumer"] for feed in data["feeds_afterwards"]} == {feed.consumer for feed in design.equipment.feeds}
    for kind, by_season in design.brief.seasonal.items():
        for season in by_season:
            assert data["brief"][kind][season]["bank_energy_wh"] == pytest.approx(
                design.brief.profile(kind, season).bank_wh
            )
    assert [one["share"] for one in data["bank"]["strings"]] == pytest.approx(
        [one.share for one in design.bank.sharing.strings]
    )
    # Kirchhoff at the bank's terminals, from the open data alone: the strings' shares make up the one ampere.
    assert sum(one["share"] for one in data["bank"]["strings"]) == pytest.approx(1)
    assert [one["port_out"] for one in data["bank"]["data_links"]][-1] == "terminator"


@pytest.mark.parametrize("command", [["check"], ["derive"], ["pack", "-o", "out"], ["survey", "-o", "out.pdf"]])
@pytest.mark.parametrize("name", ["none.axle", "demo:nothing"])
def test_unreadable_input_is_2_with_a_message_and_no_traceback(tmp_path, monkeypatch, capsys, command, name):
    monkeypatch.chdir(tmp_path)
    assert main([command[0], name, *command[1:]]) == 2
    error = capsys.readouterr().err
    assert "cannot be used" in error and "Traceback" not in error
    assert not list(tmp_path.iterdir())


def test_broken_jobs_and_odd_folders(tmp_path, capsys, clinic):
    bad = tmp_path / "bad.json"
    bad.write_bytes(store.encode(clinic).replace(b'"duty": 0.6', b'"duty": 6'))
    assert main(["check", str(bad)]) == 2
    assert capsys.readouterr().err.count("duty") == 3
    (tmp_path / "file").write_text("x")
    assert main(["pack", "demo:eye-clinic", "-o", str(tmp_path / "file")]) == 2


@pytest.mark.parametrize("flag", ["--help", "--version"])
def test_help_and_version(flag):
    done = subprocess.run([sys.executable, "-m", "weighty_axle", flag], capture_output=True, text=True, check=True)
    assert "weighty-axle" in done.stdout


def test_cards_say_what_every_system_of_a_job_takes(tmp_path):
    job = plants.two_groups(jobs.plain("library-bus"))
    (group,) = job.groups
    contact = Contact("INK.L1", "INVK.in")
    switch = Selector(
        tag="SK",
        name="Kitchen change-over",
        now="off",
        positions=(Position(name="off"), Position(name="shore", contacts=(contact,))),
    )
    design = derive(replace(job, groups=(replace(group, ac=replace(group.ac, selectors=(switch,))),)))
    (kitchen,) = design.others
    write_inlet_card(design, tmp_path / "inlet.pdf", today=date(2026, 5, 1), system="metric")
    write_selector_cards(design, tmp_path / "selector.pdf", today=date(2026, 5, 1))
    inlet, selector = (
        _plain(" ".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / name).pages))
        for name in ("inlet.pdf", "selector.pdf")
    )
    for one in (*job.inverters.sources, *group.inverters.sources):
        assert _plain(one.name) in inlet
    assert "System G2: Kitchen inverter" in inlet
    assert _plain(show(kitchen.sources[0].continuous_w.value, "W", "metric")) in inlet
    assert all(words in selector for words in ("System G2: Kitchen inverter", "Kitchen change-over", "To shore"))


def test_precharge_tells_the_time_course_as_lines_and_as_data(capsys):
    assert main(["precharge", "demo:library-bus"]) == 0
    assert "Peak without pre-charge" in capsys.readouterr().out
    assert main(["precharge", "demo:library-bus", "--json"]) == 0
    one = json.loads(capsys.readouterr().out)["DB1"]
    source = derive(demos.demo("library-bus")).bank.max_v.value
    at = one["time_s"].index(max(one["time_s"]))
    expected = source * (1 - exp(-one["time_s"][at] / (one["resistor_ohm"] * one["capacitors_mf"] / 1000)))
    assert one["voltage_v"][at] == pytest.approx(expected)
    assert one["current_a"][0] == pytest.approx(source / one["resistor_ohm"])
