"""Recorded data beside the model: what the simulated plant was given is found, dated and sized; sun against pvlib."""

from __future__ import annotations

import json
from datetime import date

import numpy as np
import pandas as pd
import pvlib
import pytest

from weighty_axle import demos
from weighty_axle.answers.log.beside import beside_model
from weighty_axle.answers.log.expected import clear_sun, idle_w, light_at, modules_of, pack_share, way_ohm
from weighty_axle.answers.log.layout import look_at
from weighty_axle.answers.log.mapping import guessed
from weighty_axle.answers.log.recording import Recording, read_recording
from weighty_axle.answers.year.days import days_of
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.log import ColumnMap, MappedColumn
from weighty_axle.plant.faults import Fault
from weighty_axle.plant.plant import Plant
from weighty_axle.plant.recording import DEMO_SEED, Planted, demo_drifts, planted_year, write_year

WITHIN_DAYS, WITHIN_SHARE = 7, 0.10


@pytest.fixture(scope="module")
def coach():
    return derive(demos.demo("eye-clinic"))


@pytest.fixture(scope="module")
def theatre():
    return derive(demos.demo("puppet-theatre"))


def beside(design, year, left_out=()):
    """A year as it is, without a file between."""
    headings = [name for name in year.columns if name not in left_out]
    keys = {
        "Bank V": "bank_v",
        "Bank A": "bank_a",
        "SOC %": "soc",
        "Bars V": "bar_v",
        "AC W": "ac_w",
        "Air degC": "air_c",
    }

    def mapped(name):
        tag = name.split()[0]
        if name in keys:
            return MappedColumn(heading=name, quantity=keys[name])
        if name == "Inverter DC A":
            return MappedColumn(heading=name, quantity="unit_a")
        return MappedColumn(heading=name, quantity="sun_w" if name.endswith(" W") else "pack_a", of=tag)

    recording = Recording(
        year.t_s, {name: year.columns[name].astype(np.float32) for name in headings}, [], 60.0, len(year.t_s)
    )
    return beside_model(design, recording, ColumnMap(columns=tuple(mapped(name) for name in headings)))


@pytest.fixture(scope="module")
def demo_year(coach):
    return planted_year(coach, demo_drifts(coach), seed=DEMO_SEED)


def test_the_three_planted_drifts_are_found_dated_and_sized_from_the_file(tmp_path, coach, demo_year, capsys):
    path = tmp_path / "year.csv"
    write_year(demo_year, path)
    assert main(["read-log", "demo:eye-clinic", str(path), "--json"]) == 1
    data = json.loads(capsys.readouterr().out)
    found = {one["of"]: one for one in data["drifts"]}
    assert set(found) == {f"drop {MAIN_RUN}", "sun CC1 beside", "idle"} and data["rows"] == 525_600
    for key, planted in zip((f"drop {MAIN_RUN}", "sun CC1 beside", "idle"), demo_drifts(coach), strict=True):
        one = found[key]
        assert abs((date.fromisoformat(one["on"]) - planted.on).days) <= WITHIN_DAYS
        assert one["between"][0] <= one["on"] <= one["between"][1] and one["probability"] > 0.95
    joint = Plant(coach, (Fault("fuse joint", MAIN_RUN),)).joint_ohm(MAIN_RUN)
    drop = found[f"drop {MAIN_RUN}"]
    assert drop["after"] - drop["before"] == pytest.approx(joint, rel=WITHIN_SHARE)
    assert found["sun CC1 beside"]["after"] == pytest.approx(80.0, rel=WITHIN_SHARE)  # one of two strings at 0.6
    night = found["idle"]["after"] - found["idle"]["before"]
    assert night == pytest.approx(60.0, rel=WITHIN_SHARE)
    assert found[f"drop {MAIN_RUN}"]["symptom"] == "hot" and "on 2027-05-11" not in drop["sentence"]
    assert "since 2027-05-11" in drop["sentence"] and "% sure" in drop["sentence"]


@pytest.mark.parametrize(
    ("fault", "on", "key", "share"),
    [
        (Fault("bad joint", MAIN_RUN), date(2027, 3, 9), f"drop {MAIN_RUN}", None),
        (Fault("unequal pack", "BP2"), date(2027, 9, 1), "share BP2", None),
        (Fault("pack lug", "BP3"), date(2027, 2, 20), "share BP3", None),
        (Fault("dead string", "S1"), date(2027, 6, 14), "sun CC1", 0.5),
        (Fault("dirty array", "CC1"), date(2027, 4, 2), "sun CC1", 0.75),
        (Fault("no sleep", "INV1"), date(2027, 10, 30), "idle", None),
    ],
)
def test_each_kind_of_drift_is_found_in_a_plant_with_one_controller(theatre, fault, on, key, share):
    found = beside(theatre, planted_year(theatre, (Planted(on, fault),), seed=fault.kind))
    assert [trace.key for trace, _ in found.drifts] == [key]
    trace, drift = found.drifts[0]
    assert abs((drift.on - on).days) <= WITHIN_DAYS
    if share is not None:
        assert drift.after / drift.before == pytest.approx(share, rel=WITHIN_SHARE)
    elif key.startswith("share"):
        strings = Plant(theatre, (fault,)).packs.strings
        ours = next(1 / one.ohm for one in strings if fault.place in one.tags) / sum(1 / one.ohm for one in strings)
        assert drift.after / 100 == pytest.approx(ours, rel=WITHIN_SHARE)
    assert trace.hint


def test_a_bank_beside_the_house_is_read_by_its_own_model(tmp_path, capsys):
    """A kept 12 V bank: its main run is worth by hand the sum of its parts, and doubles on a day."""
    own = derive(demos.demo("library-bus")).of_system("DBO")
    main_way = next(way for way in own.tree.ways if way.tag == MAIN_RUN)
    ohm = sum(part.ohm for part in main_way.parts)
    assert way_ohm(own, MAIN_RUN).value == pytest.approx(ohm)
    dice, minutes = np.random.default_rng(3), np.arange(0, 120 * 1440, 10)
    amps = np.where(abs(minutes % 1440 - 900) < 300, dice.uniform(2, 12, len(minutes)), 0.2)
    bank_v = 12.6 - 0.01 * amps + dice.normal(0, 0.002, len(minutes))
    bar_v = bank_v - amps * ohm * np.where(minutes // 1440 >= 70, 2.0, 1.0)
    when = pd.Timestamp("2027-01-01", tz="UTC") + pd.to_timedelta(minutes, unit="min")
    path = tmp_path / "old.csv"
    columns = {"Time": when.strftime("%Y-%m-%dT%H:%M:%SZ"), "Bank V": bank_v, "Bank A": -amps, "Bars V": bar_v}
    pd.DataFrame(columns).to_csv(path, index=False, float_format="%.4f")
    assert main(["read-log", "demo:library-bus", str(path), "--system", "DBO", "--json"]) == 1
    (drift,) = json.loads(capsys.readouterr().out)["drifts"]
    assert drift["of"] == f"drop {MAIN_RUN}" and abs(date.fromisoformat(drift["on"]) - date(2027, 3, 12)).days <= 1
    assert (drift["before"], drift["after"]) == pytest.approx((ohm, 2 * ohm), rel=0.05)
    assert main(["read-log", "demo:library-bus", str(path), "--system", "DBX"]) == 2
    assert "There is no system DBX." in capsys.readouterr().err


def test_a_year_without_faults_drifts_nowhere_and_is_as_the_model_says(coach):
    found = beside(coach, planted_year(coach, (), seed="quiet"))
    assert found.drifts == ()
    traces = {one.key: one for one in found.traces}
    assert np.nanmedian(traces[f"drop {MAIN_RUN}"].values) == pytest.approx(way_ohm(coach, MAIN_RUN).value, rel=0.02)
    assert np.nanmedian(traces["share BP1"].values) / 100 == pytest.approx(pack_share(coach, "BP1").value, rel=0.02)
    assert np.nanmedian(traces["idle"].values) == pytest.approx(idle_w(coach).value, rel=0.15)
    assert all(one.recorded == pytest.approx(one.model, abs=0.03) for one in found.loads)
    assert "beside the model" not in " ".join(found.told)


def test_what_columns_cannot_tell_is_said(coach, demo_year):
    short = demo_year._replace(
        t_s=demo_year.t_s[: 30 * 1440], columns={name: one[: 30 * 1440] for name, one in demo_year.columns.items()}
    )
    found = beside(
        coach, short, left_out=("Bars V", "SOC %", "BP1 A", "BP2 A", "BP3 A", "BP4 A", "BP5 A", "Inverter DC A")
    )
    words = " ".join(found.unknown)
    for part in ("Drop of the main run", "Sharing of the packs", "Charge efficiency", "Efficiency of the inverters"):
        assert part in words
    assert "afternoons may look worse" in words
    assert {one.key for one in found.traces} == {"sun CC1", "sun CC2", "sun CC1 beside", "sun CC2 beside", "idle"}
    nothing = beside(coach, short, left_out=tuple(short.columns))
    assert nothing.traces == () and len(nothing.unknown) >= 5


def test_the_expected_sun_is_that_of_pvlib(coach):
    """Clear sky of Ineichen and Perez and cells by Faiman in pvlib, at the coach's home; ours stands on its own
    formulas.
    """
    times = pd.date_range("2027-06-20", "2027-06-21", freq="10min", tz="UTC")
    place = next(one.place for one in days_of(coach) if one.day == 171)
    where = pvlib.location.Location(place.latitude_deg, place.longitude_deg, altitude=place.height_m)
    theirs = where.get_clearsky(times, linke_turbidity=coach.job.roof.sky.turbidity)["ghi"].to_numpy()
    stamps = times.astype("datetime64[s, UTC]").astype(np.int64).to_numpy()
    ours = light_at(coach, stamps)
    lit = theirs > 100
    assert ours[lit] == pytest.approx(theirs[lit], rel=0.05) and np.abs(ours[~lit] - theirs[~lit]).max() < 20
    power = clear_sun(coach, stamps, np.full(len(stamps), 20.0))
    specs = modules_of(coach, "CC1")
    cells = pvlib.temperature.faiman(theirs, 20.0, wind_speed=1.0)
    losses = coach.job.roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller * losses.shade
    wanted = sum(pvlib.pvsystem.pvwatts_dc(theirs, cells, spec.pmp_w, spec.pmp_per_c) for spec in specs) * through
    limit = (
        next(one.spec.output_a for one in coach.job.roof.controllers if one.tag == "CC1") * coach.bank.nominal_v.value
    )
    assert power.watts["CC1"][lit] == pytest.approx(np.minimum(wanted, limit)[lit], rel=0.08)


def test_the_same_seed_makes_the_same_year_and_energy_closes(coach):
    one, two, other = (planted_year(coach, (), seed=seed) for seed in ("a", "a", "b"))
    assert all((one.columns[name] == two.columns[name]).all() for name in one.columns)
    assert not (one.columns["AC W"] == other.columns["AC W"]).all()
    # What flows into the bank is what its charge has changed by: independent of how the year was stepped.
    capacity = coach.job.bank.spec.capacity_ah * len(coach.job.bank.packs)
    moved = one.columns["Bank A"].sum() / 60
    stored = (one.columns["SOC %"][-1] - 70.0) / 100 * capacity
    assert moved == pytest.approx(stored, abs=0.02 * np.abs(one.columns["Bank A"]).sum() / 60)
    with pytest.raises(ValueError, match="no such fault"):
        planted_year(coach, (Planted(date(2027, 1, 1), Fault("bad joint", "W-NONE")),), seed="a")


def test_a_map_written_out_and_changed_is_read_in_again(tmp_path, coach, demo_year, capsys):
    path, plan = tmp_path / "log.csv", tmp_path / "map.json"
    write_year(
        demo_year._replace(t_s=demo_year.t_s[:9000], columns={n: c[:9000] for n, c in demo_year.columns.items()}), path
    )
    assert main(["read-log", "demo:eye-clinic", str(path), "--write-map", str(plan), "--zone=-03:00"]) in (0, 1)
    plan.write_text(plan.read_text().replace('"bar_v"', '""'))
    assert main(["read-log", "demo:eye-clinic", str(path), "--map", str(plan)]) in (0, 1)
    assert "no voltage at the bars" in capsys.readouterr().out
    plan.write_text('{"columns": [{"heading": "Bank V", "quantity": "volts"}]}')
    assert main(["read-log", "demo:eye-clinic", str(path), "--map", str(plan)]) == 2
    plan.write_text("{")
    assert main(["read-log", "demo:eye-clinic", str(path), "--map", str(plan)]) == 2
    assert main(["read-log", "demo:eye-clinic", str(tmp_path / "none.csv")]) == 2
    said = capsys.readouterr().err
    assert "no quantity 'volts'" in said and "no map of columns" in said and "no file that can be read" in said
    layout = look_at(path)
    assert read_recording(path, layout, guessed(coach, layout)).rows_read == 9000
