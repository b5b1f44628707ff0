"""Designs side by side: each as it is by itself; a design that is none is told, not computed."""

from __future__ import annotations

import json

import pytest
from msgspec.structs import replace

from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import year_result
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.data.compare import ROWS, compare, compare_lines
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.variants import keep_as
from weighty_axle.job.files import store
from weighty_axle.rules.judge import judge


@pytest.fixture(scope="module")
def two(puppet):
    return set_pack_count(2).on(keep_as("Four packs").on(puppet))


def test_each_design_stands_as_it_is_alone(two, puppet):
    now, four = compare(two)
    assert (now.name, four.name) == ("First design", "Four packs")
    design = derive(puppet)
    assert four.figures["bank"].value == design.bank.usable_energy_wh.value == 2 * now.figures["bank"].value
    assert four.figures["missing"].value == year_result(live(design)).missing_wh.value
    assert sum(four.findings.values()) == len(judge(design))
    assert four.figures["mass"].value - now.figures["mass"].value == pytest.approx(2 * puppet.bank.spec.mass_kg)
    text = list(compare_lines((now, four)))
    assert len({len(line) for line in text}) == 1 and any(row.words in line for row in ROWS for line in text)


def test_a_variant_that_is_no_job_is_told_with_its_place(two):
    broken = replace(two.variants[0], roof=replace(two.variants[0].roof, controllers=()))
    found = compare(replace(two, variants=(broken,)))
    assert found[1].refused and not found[1].figures and found[0].figures
    assert any(found[1].refused in line for line in compare_lines(found))


def test_the_command_line_compares_and_says_what_there_is(two, tmp_path, capsys):
    path = tmp_path / "two.axle"
    store.save(two, path)
    assert main(["compare", str(path), "Four packs", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [one["name"] for one in told] == ["Four packs"] and told[0]["figures"]["bank"]["unit"] == "Wh"
    assert main(["compare", str(path), "Nobody"]) == 2
    assert "Four packs" in capsys.readouterr().err
    assert main(["compare", str(path)]) == 0 and "Parts cost" in capsys.readouterr().out


def test_year_and_sweep_on_the_command_line(puppet, tmp_path, capsys):
    path = tmp_path / "puppet.axle"
    store.save(puppet, path)
    assert main(["year", str(path), "--json", "--step", "60", "--years", "3"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["step_min"] == 60 and len(told["months"]) == 12 and told["weathers"]["years"] == 3
    assert abs(told["closes_wh"]) < 1e-6 and told["totals"]["missing_wh"]["unit"] == "Wh"
    assert main(["year", str(path), "--seed", "7"]) == 0 and "Jan" in capsys.readouterr().out
    assert main(["sweep", str(path), "-o", str(tmp_path / "s.csv")]) == 0
    assert (tmp_path / "s.csv").read_text("utf-8-sig").startswith("modules,packs")
    assert main(["year", str(path), "--system", "NOPE"]) == 2


def test_the_pack_prints_the_customers_year_and_the_designs(two, tmp_path):
    import pypdf

    from weighty_axle.exports.pages.page import PackPages, write_pdf
    from weighty_axle.exports.pages.year import pages

    design = derive(two)
    path = tmp_path / "year.pdf"
    write_pdf(path, "t", "f", two.practice, lambda width: pages(PackPages(design, (), None, "metric", width, None)))
    text = " ".join("".join(page.extract_text() for page in pypdf.PdfReader(path).pages).split())
    result = year_result(live(design))
    for part in (
        "A year on the road",
        "Jan",
        "Dec",
        "is no forecast",
        "Designs side by side",
        "Four packs",
        "Parts cost",
    ):
        assert part in text, part
    assert f"{result.lowest_share.value:.0%}" in text and "40 years" in text
    assert pages(PackPages(derive(replace(two, loads=())), (), None, "metric", 500, None)) == []
