"""Measured hours as a year: read as a general library reads them; where they were measured the light is theirs."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pvlib
import pytest
from msgspec.structs import replace

from weighty_axle.answers.year.inputs import in_weather, year_inputs
from weighty_axle.answers.year.lived import kernel_of, lived
from weighty_axle.answers.year.result import imbalance_w
from weighty_axle.answers.year.sky import far_words, weather_of_hours
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.job.files import store
from weighty_axle.reference.importers.weather_file import WeatherFileError, read_hours

TMY3 = Path(pvlib.__file__).parent / "data" / "723170TYA.CSV"


@pytest.fixture(scope="module")
def hours():
    return read_hours(TMY3)


@pytest.fixture(scope="module")
def at_the_place(puppet, hours):
    site = replace(
        puppet.site, latitude_deg=hours.latitude_deg, longitude_deg=hours.longitude_deg, height_m=hours.height_m
    )
    return derive(replace(puppet, site=site, stays=()))


def test_hours_are_those_a_general_library_reads(hours):
    frame, where = pvlib.iotools.read_tmy3(TMY3, map_variables=True)
    assert hours.ground_w_per_m2 == tuple(frame["ghi"].astype(float))
    assert hours.air_c == tuple(frame["temp_air"].astype(float)) and not hours.told
    assert (hours.latitude_deg, hours.longitude_deg, hours.zone_h, hours.height_m) == (
        where["latitude"],
        where["longitude"],
        where["TZ"],
        where["altitude"],
    )


def test_light_on_a_level_roof_where_it_was_measured_is_the_files_own(at_the_place, hours):
    """By the file itself, month by month; the equation of time moves some of it by minutes, not to another day."""
    inputs = year_inputs(at_the_place, 96)
    weather = weather_of_hours(inputs.sunny, hours, at_the_place.job.roof.sky.turbidity)
    share, sunny = weather.clear_share, inputs.sunny
    light = share * sunny.clear.global_w_per_m2 + (1 - share) * sunny.overcast_w_per_m2
    days = np.add.reduceat(light, np.arange(0, len(light), 96)) / 4
    told = np.add.reduceat(np.array(hours.ground_w_per_m2), np.arange(0, 8760, 24))
    assert days.sum() == pytest.approx(told.sum(), rel=0.01)
    months = np.repeat(np.arange(12), (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31))
    for month in range(12):
        assert days[months == month].sum() == pytest.approx(told[months == month].sum(), rel=0.03), month
    by_day = np.add.reduceat(weather.air_c, np.arange(0, len(light), 96)) / 96
    assert by_day == pytest.approx(np.array(hours.air_c).reshape(365, 24).mean(axis=1), abs=1.0)


def test_a_year_in_measured_hours_closes_and_the_level_modules_give_what_the_light_says(at_the_place, hours):
    """Against pvlib: effective irradiance on a level plane, the PVWatts DC model with Faiman cells without wind."""
    inputs = year_inputs(at_the_place, 24)
    weather = weather_of_hours(inputs.sunny, hours, at_the_place.job.roof.sky.turbidity)
    year = lived(at_the_place, inputs, weather, kernel_of(True))
    assert np.abs(imbalance_w(year)).max() < 1e-6
    roof = at_the_place.job.roof
    ghi, air = np.array(hours.ground_w_per_m2), np.array(hours.air_c)
    cell = pvlib.temperature.faiman(ghi, air, wind_speed=0.0, u0=1000 / roof.rise_c, u1=0.0)
    dc = pvlib.pvsystem.pvwatts_dc(ghi, cell, roof.module.pmp_w * len(roof.modules), roof.module.pmp_per_c)
    losses = roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller * losses.shade
    own = in_weather(at_the_place, inputs, weather).roof_w.sum()
    assert own == pytest.approx(float(dc.sum()) * through, rel=0.02)


def test_weather_of_another_place_is_told_and_the_south_keeps_its_light(puppet, hours):
    assert "km from" in far_words(derive(puppet), hours)
    site = replace(puppet.site, latitude_deg=-hours.latitude_deg)
    south = derive(replace(puppet, site=site, stays=()))
    inputs = year_inputs(south, 24)
    weather = weather_of_hours(inputs.sunny, hours, 3.0)
    made = in_weather(south, inputs, weather).roof_w.sum(axis=1).reshape(365, 24).sum(axis=1)
    assert made[:59].mean() > 1.5 * made[150:210].mean()


def test_holes_are_filled_and_told_and_a_file_without_a_place_is_refused(hours, tmp_path):
    lines = TMY3.read_text().splitlines()
    column = lines[1].split(",").index("GHI (W/m^2)")
    for at in range(40, 8700, 400):
        cells = lines[at].split(",")
        cells[column] = "-9900"
        lines[at] = ",".join(cells)
    holed = tmp_path / "holed.csv"
    holed.write_text("\n".join(lines))
    found = read_hours(holed)
    assert "22 hours were filled" in " ".join(found.told) and len(found.ground_w_per_m2) == 8760
    assert sum(found.ground_w_per_m2) == pytest.approx(sum(hours.ground_w_per_m2), rel=0.01)
    lines[0] = "723170,Somewhere"
    holed.write_text("\n".join(lines))
    with pytest.raises(WeatherFileError, match="where it was measured"):
        read_hours(holed)


def test_the_command_line_takes_a_weather_file(puppet, tmp_path, capsys):
    path = tmp_path / "p.axle"
    store.save(puppet, path)
    assert main(["year", str(path), "--weather", str(TMY3), "--step", "60"]) == 0
    out, err = capsys.readouterr()
    assert "Jan" in out and "km from" in err
    assert main(["year", str(path), "--weather", str(path)]) == 2
