"""What a design costs: parts counted by hand, prices stated and taken away, conductors by the metre."""

from __future__ import annotations

import csv
import io
from collections import Counter

import pytest

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.wiring.schedule import schedule
from weighty_axle.answers.year.cost import bill, price_of_run
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.exports.tables.design import cables_csv
from weighty_axle.job.edits.year import set_price


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_every_part_that_is_bought_is_counted_once(name):
    job = demo(name)
    rows = bill(derive(job)).rows
    assert len({row.part for row in rows}) == len(rows)
    counts = Counter(dict.fromkeys(("pack", "inverter", "controller", "module", "converter"), 0.0))
    for row in rows:
        counts[row.kind] += row.count
    bought = [job.bank, *(bar.bank for bar in job.bars if bar.bank and bar.bank.role not in ("kept", "starting"))]
    assert counts["pack"] == sum(len(bank.packs) for bank in bought if bank.role not in ("kept", "starting"))
    assert counts["inverter"] == len(job.inverters.units) + sum(len(one.inverters.units) for one in job.groups)
    assert counts["controller"] == sum(not one.unit for one in job.roof.controllers)
    assert counts["converter"] == len(job.converters)
    assert counts["module"] == len(job.roof.modules) + sum(one.series * one.parallel for one in job.roof.remote)


def test_prices_add_up_and_go_again(puppet):
    pack, size = puppet.bank.spec.name, derive(puppet).wiring.main.chosen.size
    job = set_price(f"{size} conductor", 11.0).apply(set_price(pack, 900.0).apply(puppet))
    design = derive(job)
    found = bill(design)
    metres = sum(
        2 * one.length_m * one.count for one in schedule(design) if one.carries == "DC" and one.size == size
    ) + sum(
        2 * one.length_m * one.count
        for other in design.others
        for one in schedule(other)
        if one.carries == "DC" and one.size == size
    )
    cut = sum(one.cut_m.value for one in cuts(design) if one.sold_as == f"{size} conductor")
    assert cut > metres  # slack and ends, and the leads of the packs
    assert found.total.value == pytest.approx(900.0 * len(puppet.bank.packs) + 11.0 * cut, abs=0.2)
    assert found.unpriced == len(found.rows) - 2 and "have no price" in found.total.limit
    main = design.wiring.main
    assert price_of_run(design, main.chosen, main.length_m.value) == pytest.approx(
        11.0 * 2 * main.length_m.value * main.chosen.count
    )
    rows = list(csv.DictReader(io.StringIO(cables_csv(design).decode("utf-8-sig"))))
    assert sum(float(row["price"]) for row in rows if row["price"]) == pytest.approx(11.0 * metres, abs=0.2)
    again = set_price(pack, None).apply(job)
    assert [one.part for one in again.year.prices] == [f"{size} conductor"]
