"""Recordings of any layout: read as pandas and Python's own csv read them; clocks, gaps, counters and units put
right.
"""

from __future__ import annotations

import csv
import io
from datetime import date, datetime, timedelta

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

from weighty_axle import demos
from weighty_axle.answers.log.layout import RecordingError, look_at
from weighty_axle.answers.log.mapping import column_map, guessed, remembered, wrong_map
from weighty_axle.answers.log.recording import MOST_ROWS, Recording, read_recording
from weighty_axle.answers.log.rows import Rows
from weighty_axle.answers.log.tidy import in_utc, unrolled, zone_of
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.log import remember_map
from weighty_axle.job.models.log import ColumnMap, MappedColumn


@pytest.fixture(scope="module")
def coach():
    return derive(demos.demo("eye-clinic"))


def frame(rows: int = 600, start: str = "2027-03-27 20:00", step: str = "1min") -> pd.DataFrame:
    """Three days of readings with holes in them."""
    drawn = np.random.default_rng(3)
    times = pd.date_range(start, periods=rows, freq=step)
    made = pd.DataFrame({"Bank V": drawn.uniform(50, 56, rows), "Bank A": drawn.normal(0, 40, rows)}, index=times)
    made["SOC %"] = drawn.uniform(20, 100, rows)
    made.iloc[5, 0] = made.iloc[7, 2] = np.nan
    return made.round(3)


WRITTEN = {
    "ISO, commas": {"sep": ",", "date_format": "%Y-%m-%d %H:%M:%S"},
    "T and Z": {"sep": ",", "date_format": "%Y-%m-%dT%H:%MZ"},
    "semicolons, decimal commas": {"sep": ";", "decimal": ",", "date_format": "%d.%m.%Y %H:%M"},
    "tabs": {"sep": "\t", "date_format": "%Y/%m/%d %H:%M:%S"},
    "month first": {"sep": ",", "date_format": "%m/%d/%Y %H:%M"},
    "half days": {"sep": ",", "date_format": "%m/%d/%Y %I:%M:%S %p"},
    "bars, two-figure years": {"sep": "|", "date_format": "%d.%m.%y %H:%M"},
    "quoted": {"sep": ",", "date_format": "%Y-%m-%d %H:%M:%S", "quoting": csv.QUOTE_ALL},
    "words for nothing": {"sep": ",", "date_format": "%Y-%m-%d %H:%M:%S", "na_rep": "---"},
}


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("how", WRITTEN)
def test_a_recording_is_read_as_pandas_wrote_it(tmp_path, coach, how, encoding):
    wanted = frame()
    path = tmp_path / "log.csv"
    head = "Recorder 7; firmware 1.2\r\n\r\n" if how.startswith("tabs") else ""
    text = head + wanted.to_csv(index_label="Zeit ä", lineterminator="\r\n", **WRITTEN[how])
    path.write_bytes(text.encode(encoding))
    layout = look_at(path)
    columns = guessed(coach, layout)
    assert [one.quantity for one in columns.columns] == ["", "bank_v", "bank_a", "soc"]
    found = read_recording(path, layout, columns)
    assert (found.t_s == wanted.index.astype("datetime64[s]").astype(np.int64)).all()
    for name in wanted.columns:
        np.testing.assert_allclose(found.columns[name], wanted[name], rtol=1e-6)
    assert found.rows_read == len(wanted) and not [one for one in found.told if "left out" in one]


def test_seconds_since_1970_days_and_clocks_apart_and_columns_without_headings(tmp_path, coach):
    wanted = frame(50)
    for name, text in {
        "seconds": "\n".join(f"{int(t.timestamp())},{v},{a}" for t, v, a in wanted[["Bank V", "Bank A"]].itertuples()),
        "thousandths": "\n".join(
            f"{int(t.timestamp() * 1000)},{v},{a}" for t, v, a in wanted[["Bank V", "Bank A"]].itertuples()
        ),
        "apart": "\n".join(
            f"{t:%Y-%m-%d},{t:%H:%M:%S},{v},{a}" for t, v, a in wanted[["Bank V", "Bank A"]].itertuples()
        ),
    }.items():
        path = tmp_path / f"{name}.csv"
        path.write_text(text.replace("nan", ""))
        layout = look_at(path)
        values = len(layout.headings) - 2
        columns = ColumnMap(
            columns=tuple(
                MappedColumn(heading=one, quantity={values: "bank_v", values + 1: "bank_a"}.get(at, ""))
                for at, one in enumerate(layout.headings)
            )
        )
        found = read_recording(path, layout, columns)
        assert (found.t_s == wanted.index.astype("datetime64[s]").astype(np.int64)).all(), name
        np.testing.assert_allclose(found.columns[layout.headings[values]], wanted["Bank V"], rtol=1e-6)


def test_every_row_that_cannot_be_read_is_told_and_the_others_are_those_of_the_csv_module(tmp_path, coach):
    text = frame(200).to_csv(index_label="time")
    lines = text.splitlines()
    lines[20] = "2027-03-27 20:19:00,52.1"  # a column short
    lines[30] = "rubbish,1,2,3"
    lines[40] = lines[40].replace(lines[40].split(",")[1], "fifty")
    lines.insert(50, "")
    path = tmp_path / "log.csv"
    path.write_text("\n".join(lines))
    layout = look_at(path)
    found = read_recording(path, layout, guessed(coach, layout))
    rows = [one for one in csv.reader(io.StringIO("\n".join(lines[1:]))) if len(one) == 4 and one[0] != "rubbish"]
    assert len(found.t_s) == len(rows)
    theirs = [float(one[1]) if one[1] not in ("", "fifty") else np.nan for one in rows]
    np.testing.assert_allclose(found.columns["Bank V"], theirs, rtol=1e-6)
    told = " ".join(found.told)
    assert "2 rows were left out" in told and "1 values were no numbers" in told


@pytest.mark.parametrize("zone", ["Europe/Oslo", "America/Halifax", "Australia/Adelaide", "Asia/Kolkata"])
def test_local_clocks_are_those_of_pandas_also_when_an_hour_comes_twice(zone):
    utc = pd.date_range("2027-01-01", "2027-12-31", freq="10min", tz="UTC")
    local = utc.tz_convert(zone).tz_localize(None).astype("datetime64[s]").astype(np.int64).to_numpy()
    told: list[str] = []
    found = in_utc(local, [], zone, told)
    assert (found == utc.astype("datetime64[s, UTC]").astype(np.int64).to_numpy()).all()
    assert ("told apart by the order of rows" in " ".join(told)) == (zone != "Asia/Kolkata")
    if zone == "Europe/Oslo":
        leap = np.array([np.datetime64("2027-03-28T02:30", "s").astype(np.int64)])
        in_utc(leap, [], zone, told)
        assert "no clock of Europe/Oslo shows" in told[-1]


@pytest.mark.parametrize(("said", "hours"), [("+02:00", 2), ("-05:30", -5.5), ("+2", 2), ("", 0), ("UTC", 0)])
def test_a_zone_can_be_said_in_hours(said, hours):
    assert zone_of(said).utcoffset(datetime(2027, 6, 1)) == timedelta(hours=hours)


def test_a_zone_there_is_none_of_is_told():
    with pytest.raises(RecordingError, match="no time zone 'Mars/Base'"):
        zone_of("Mars/Base")


def test_order_doubles_and_gaps_are_told_and_put_right(tmp_path, coach):
    wanted = frame(300)
    mixed = pd.concat([wanted.iloc[100:150], wanted.iloc[:100], wanted.iloc[:3] + 1.0, wanted.iloc[200:]])
    path = tmp_path / "log.csv"
    mixed.to_csv(path, index_label="time")
    layout = look_at(path)
    found = read_recording(path, layout, guessed(coach, layout))
    told = " ".join(found.told)
    assert "put in order" in told and "3 rows had the time of another" in told and "1 gaps, together 1 h" in told
    clean = pd.concat([wanted.iloc[:3] + 1.0, wanted.iloc[3:150], wanted.iloc[200:]])
    np.testing.assert_allclose(found.columns["Bank V"], clean["Bank V"], rtol=1e-6)


@given(st.lists(st.floats(0.0, 400.0), min_size=2, max_size=60), st.sampled_from([65536.0, 100_000.0, 6553.6]))
def test_a_counter_that_rolls_over_goes_on(steps, end):
    true = np.cumsum(steps) + 0.96 * end
    told: list[str] = []
    found = unrolled(np.mod(true, end), "kWh", told)
    np.testing.assert_allclose(np.diff(found), np.diff(true), atol=1e-6 * end)
    assert ("rolled over" in " ".join(told)) == bool((np.diff(np.floor(true / end)) > 0).any())


def test_a_counter_that_was_put_to_zero_begins_anew_and_is_told_apart():
    told: list[str] = []
    assert unrolled(np.array([10.0, 50.0, 2.0, 30.0]), "Wh today", told).tolist() == [10, 50, 52, 80]
    assert "began anew 1 times" in told[0]


def test_far_more_rows_than_are_kept_become_means_and_memory_stays_bounded(tmp_path, coach, monkeypatch):
    monkeypatch.setattr("weighty_axle.answers.log.recording.MOST_ROWS", 2000)
    monkeypatch.setattr("weighty_axle.answers.log.recording.PIECE_BYTES", 40_000)
    wanted = frame(20_000, step="10s")
    path = tmp_path / "log.csv"
    wanted.to_csv(path, index_label="time")
    layout = look_at(path)
    found = read_recording(path, layout, guessed(coach, layout))
    assert (
        found.rows_read == 20_000 and len(found.t_s) <= 2000 and any("kept as their mean" in one for one in found.told)
    )
    whole = wanted["Bank V"].groupby(wanted.index.floor("300s")).mean()
    # A minute may be cut by the end of a piece: most agree to the letter, all means lie within the minute's values.
    ours = pd.Series(found.columns["Bank V"], index=pd.to_datetime(found.t_s, unit="s"))
    assert np.isclose(ours.reindex(whole.index), whole, rtol=1e-5).mean() > 0.97
    assert MOST_ROWS == 1_100_000


def test_a_power_is_told_from_its_counter_and_a_small_load_is_no_kilowatt(coach):
    """Energy counted, over the counter's end: the power between is the one that was counted."""
    watts = np.concatenate([np.zeros(200), np.full(400, 600.0), np.full(300, 90.0)])
    t_s = 1_800_000_000 + 60 * np.arange(len(watts))
    counter = np.mod(np.cumsum(watts) / 60 + 65_000, 65_536)
    columns = ColumnMap(
        columns=(
            MappedColumn(heading="yield", quantity="sun_wh", of="CC1"),
            MappedColumn(heading="load", quantity="ac_w"),
        )
    )
    recording = Recording(t_s, {"yield": counter, "load": np.full(len(watts), 12.0, dtype=np.float32)}, [], 60.0)
    rows = Rows(coach, recording, columns)
    assert "rolled over" in " ".join(rows.told) and "kW" not in " ".join(rows.told)
    np.testing.assert_allclose(rows.get("sun_w", "CC1")[1:], watts[1:], atol=2.0)
    assert rows.get("ac_w").tolist() == [12.0] * len(watts)


def test_two_columns_of_one_heading_are_told_apart_and_a_line_without_end_is_no_table(tmp_path, coach):
    path = tmp_path / "log.csv"
    path.write_text("time,V,V\n2027-01-01 00:00,1,2\n2027-01-01 00:01,3,4\n")
    layout = look_at(path)
    assert layout.headings == ("time", "V", "V 2")
    keys = zip(layout.headings, ("", "bank_v", "bar_v"), strict=True)
    columns = ColumnMap(columns=tuple(MappedColumn(heading=one, quantity=key) for one, key in keys))
    found = read_recording(path, layout, columns)
    assert found.columns["V"].tolist() == [1, 3] and found.columns["V 2"].tolist() == [2, 4]
    with path.open("a") as file:
        file.write("2027-01-01 00:02," + "7" * 9_000_000)
    with pytest.raises(RecordingError, match="no table"):
        read_recording(path, layout, columns)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"),
        ("only one column\n1\n2\n", "no rows with a time"),
        ("a,b\n1,2\n3,4\n", "no rows with a time"),
        ("\x00\x01\x02\x03" * 40, "no rows with a time"),
    ],
)
def test_what_is_no_recording_is_told_in_a_sentence(tmp_path, text, words):
    path = tmp_path / "log.csv"
    path.write_text(text)
    with pytest.raises(RecordingError, match=words):
        look_at(path)
    with pytest.raises(RecordingError, match="no file that can be read"):
        look_at(tmp_path)


@pytest.mark.parametrize(
    ("heading", "values", "expected"),
    [
        ("battery_voltage", "52.1", ("bank_v", "", 1.0)),
        ("Battery [mV]", "52100", ("bank_v", "", 0.001)),
        ("bank voltage", "521", ("bank_v", "", 0.1)),
        ("Bus voltage (V)", "52.0", ("bar_v", "", 1.0)),
        ("State of charge", "0.71", ("soc", "", 100.0)),
        ("CC2 power kW", "1.1", ("sun_w", "CC2", 1000.0)),
        ("BP3 current", "12", ("pack_a", "BP3", 1.0)),
        ("INV1 DC A", "40", ("unit_a", "INV1", 1.0)),
        ("AC load W", "900", ("ac_w", "", 1.0)),
        ("Outside temp", "12", ("air_c", "", 1.0)),
        ("GHI W/m2", "700", ("sun_per_m2", "", 1.0)),
        ("PV yield kWh", "3.2", ("sun_wh", "", 1000.0)),
        ("Water level cm", "40", None),
    ],
)
def test_columns_are_known_by_their_headings_and_values(tmp_path, coach, heading, values, expected):
    path = tmp_path / "log.csv"
    path.write_text(f"time;{heading}\n2027-01-01 00:00;{values}\n2027-01-01 00:01;{values}\n")
    found = guessed(coach, look_at(path)).columns[1]
    assert ((found.quantity, found.of, found.scale) if found.quantity else None) == expected


def test_a_map_is_remembered_by_the_headings_and_what_cannot_be_is_told(tmp_path, coach):
    path = tmp_path / "log.csv"
    path.write_text("time;x;y\n2027-01-01 00:00;1;2\n2027-01-01 00:01;1;2\n")
    layout = look_at(path)
    assert remembered(coach.whole, layout) is None
    said = ColumnMap(
        columns=tuple(
            MappedColumn(heading=one, quantity=key)
            for one, key in zip(layout.headings, ("", "bank_v", "soc"), strict=True)
        ),
        zone="Europe/Oslo",
    )
    job = remember_map(said).apply(coach.whole)
    assert column_map(derive(job), layout) == said
    twice = remember_map(said).apply(job)
    assert twice.log.maps == (said,)
    bad = {
        "no quantity 'volts'": MappedColumn(heading="x", quantity="volts"),
        "INV1 is no controller": MappedColumn(heading="x", quantity="sun_w", of="INV1"),
        "which pack": MappedColumn(heading="x", quantity="pack_a"),
        "times 0": MappedColumn(heading="x", quantity="soc", scale=0.0),
    }
    for words, column in bad.items():
        assert words in " ".join(wrong_map(coach, ColumnMap(columns=(column,)))), words
    both = (MappedColumn(heading="x", quantity="soc"), MappedColumn(heading="y", quantity="soc"))
    assert "said to be the same" in wrong_map(coach, ColumnMap(columns=both))[0]


def test_signs_units_and_a_clock_beside_the_sun_are_put_right(coach, tmp_path):
    from weighty_axle.plant.recording import planted_year, write_year

    year = planted_year(coach, (), seed="turned", first=date(2027, 6, 1))
    short = year._replace(
        t_s=year.t_s[: 8 * 1440], columns={name: one[: 8 * 1440] for name, one in year.columns.items()}
    )
    turned = short._replace(
        t_s=short.t_s + 3 * 3600,
        columns={
            "Bank V": short.columns["Bank V"],
            "Bank A": -short.columns["Bank A"],
            "CC1 W": short.columns["CC1 W"] / 1000,
            "Air F": short.columns["Air degC"] * 1.8 + 32,
        },
    )
    path = tmp_path / "log.csv"
    write_year(turned, path)
    layout = look_at(path)
    columns = guessed(coach, layout)
    rows = Rows(coach, read_recording(path, layout, columns), columns)
    told = " ".join(rows.told)
    assert (
        "sign was turned" in told and "only be in kW" in told and "only be in °F" in told and "3 h ahead of UTC" in told
    )
    np.testing.assert_allclose(rows.get("bank_a"), short.columns["Bank A"], atol=1e-3)
    np.testing.assert_allclose(rows.get("sun_w", "CC1"), short.columns["CC1 W"], atol=1.0)
    np.testing.assert_allclose(rows.get("air_c"), short.columns["Air degC"], atol=1e-2)
    assert (rows.t_s == short.t_s).all()
