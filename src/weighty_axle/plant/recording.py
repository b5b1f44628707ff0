"""A year of minutes as the plant's meters would show it, with faults that begin on a day: invented, from a seed."""

from __future__ import annotations

from datetime import UTC, date, datetime
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weighty_axle.answers.log.expected import clear_sun
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.files.disk import replacing
from weighty_axle.plant.charging import string_w
from weighty_axle.plant.faults import EVERY, Fault
from weighty_axle.plant.plant import Plant

Floats = NDArray[np.float64]

MINUTE_S, DAY_S = 60, 86_400
NOISE_V, NOISE_A = 0.004, 0.15
"""What meters wander by from minute to minute. Source: judgement."""
SHORT_DAY_SHARE = 0.3


class Planted(NamedTuple):
    """A fault that begins on a day."""

    on: date
    fault: Fault


class Year(NamedTuple):
    """The rows: seconds since 1970 in UTC, and columns by heading."""

    t_s: NDArray[np.int64]
    columns: dict[str, Floats]


class _Meters(NamedTuple):
    """What the plant is like while certain faults are there: resistance of the main run [ohm], share of each pack,
    share of its light each controller gets, what is drawn beside the loads [W].
    """

    main_ohm: float
    shares: tuple[float, ...]
    light: dict[str, float]
    beside_w: float


def planted_year(design: Design, planted: tuple[Planted, ...], *, seed: str, first: date = date(2027, 1, 1)) -> Year:
    """A year of minutes. Clouds, loads and meters' noise follow from the seed; drops, shares and light from plants with
    the faults of each day.

    Raises ValueError for a fault this plant cannot have.
    """
    for one in planted:
        if one.fault.kind not in EVERY or one.fault.place not in EVERY[one.fault.kind].places(design):
            raise ValueError(f"{one.fault.kind} {one.fault.place}: this plant has no such fault.")
    drawn = np.random.default_rng(int.from_bytes(seed.encode()[:12].ljust(12, b"."), "little"))
    start = int(datetime(first.year, first.month, first.day, tzinfo=UTC).timestamp())
    t_s = start + MINUTE_S * np.arange(365 * DAY_S // MINUTE_S)
    day = (t_s - start) // DAY_S
    meters = _by_day(design, planted, first)
    air_c = _air(design, t_s, day + first.timetuple().tm_yday - 1, drawn)
    ac_w = _loads(design, t_s, day, drawn)
    sun_w = _sun(design, t_s, day, air_c, meters, drawn)
    return _metered(design, t_s, day, meters, air_c, ac_w, sun_w, drawn)


def _by_day(design: Design, planted: tuple[Planted, ...], first: date) -> list[_Meters]:
    """The meters of every day; plants with the same faults are asked once."""
    known: dict[tuple[Fault, ...], _Meters] = {}
    found = []
    for at in range(365):
        faults = tuple(one.fault for one in planted if (one.on - first).days <= at)
        if faults not in known:
            known[faults] = _asked(design, faults)
        found.append(known[faults])
    return found


def _asked(design: Design, faults: tuple[Fault, ...]) -> _Meters:
    """Ask a plant with faults what it is like."""
    plant = _loaded(design, faults)
    way = plant.flow.ways[MAIN_RUN]
    whole = sum(one.amps for one in plant.packs.strings)
    whole_w = _string_watts(Plant(design))
    lit_w = _string_watts(Plant(design, faults))
    light = {
        tag: sum(lit_w[key] for key in strings) / max(1e-9, sum(whole_w[key] for key in strings))
        for tag, strings in _strings_by_controller(design).items()
    }
    idle = Plant(design, faults)
    beside_w = _drawn_idle(idle) - _drawn_idle(Plant(design))
    return _Meters(
        (way.start_v - way.end_v) / way.amps, tuple(one.amps / whole for one in plant.packs.strings), light, beside_w
    )


def _loaded(design: Design, faults: tuple[Fault, ...]) -> Plant:
    plant = _switched_on(Plant(design, faults))
    plant.heater_w = 0.5 * design.job.inverters.spec.continuous_va * len(design.job.inverters.units)
    plant.run(0.001)
    return plant


def _switched_on(plant: Plant) -> Plant:
    plant.cap_v = plant.packs.behind(plant.packs.strings)[0]
    for pack in plant.job.bank.packs:
        plant.turn(pack.tag, "on")
    plant.turn("main", "on")
    for unit in plant.job.inverters.units:
        plant.turn(unit.tag, "on")
    return plant


def _drawn_idle(plant: Plant) -> float:
    _switched_on(plant).run(0.001)
    way = plant.flow.ways.get(MAIN_RUN)
    return way.amps * way.end_v if way is not None else 0.0


def _strings_by_controller(design: Design) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for one in design.roof.strings:
        if one.modules:
            found.setdefault(one.controller, []).append(one.tag)
    return found


def _string_watts(plant: Plant) -> dict[str, float]:
    """What every string gives in full sun [W]."""
    plant.sun_w_per_m2 = 800.0
    found = {}
    for one in plant.design.roof.strings:
        if one.modules:
            plant.at[one.tag] = "on"
            found[one.tag] = 0.0 if one.controller in plant.off_places else string_w(plant, one.tag, 40.0)
    return found


def _air(design: Design, t_s: NDArray[np.int64], day: NDArray[np.int64], drawn: np.random.Generator) -> Floats:
    """Air by season and hour, with days that are warmer or colder; `day` of the year from 0."""
    site = design.job.site
    low, high = site.record_low_c + 15, site.design_high_c - 8
    turn = 0.5 if site.latitude_deg < 0 else 0.0
    season = (low + high) / 2 - (high - low) / 2 * np.cos(2 * np.pi * (day / 365 - 0.05 + turn))
    solar_h = t_s % DAY_S / 3600 + site.longitude_deg / 15
    daily = np.repeat(_wandering(drawn, 365, 3.0, 0.7), DAY_S // MINUTE_S)
    return np.asarray(season + daily + 4 * np.sin(2 * np.pi * (solar_h - 9) / 24))


def _wandering(drawn: np.random.Generator, count: int, size: float, alike: float) -> Floats:
    """Values that wander, each a share like the one before."""
    steps = drawn.standard_normal(count) * size * np.sqrt(1 - alike**2)
    found = np.empty(count)
    so_far = 0.0
    for at, step in enumerate(steps):
        so_far = alike * so_far + step
        found[at] = so_far
    return found


def _loads(design: Design, t_s: NDArray[np.int64], day: NDArray[np.int64], drawn: np.random.Generator) -> Floats:
    """Power on the AC side [W]: nothing at night, working days with stretches of large loads, quiet week-ends."""
    rated = design.job.inverters.spec.continuous_va * len(design.job.inverters.units)
    solar_h = (t_s % DAY_S / 3600 + design.job.site.longitude_deg / 15) % 24
    busy = (solar_h > 8) & (solar_h < 18)
    working = (day + 4) % 7 < 5
    level = np.where(working, 1.0, SHORT_DAY_SHARE) * np.repeat(drawn.uniform(0.6, 1.1, 365), DAY_S // MINUTE_S)
    bursts = np.repeat(drawn.uniform(0.02, 0.3, len(t_s) // 20 + 1), 20)[: len(t_s)]
    fridge = np.where((t_s // 900) % 3 == 0, 0.015, 0.0)
    share = np.where(busy, bursts * level, 0.0) + np.where((solar_h > 6) & (solar_h < 23), fridge, 0.0)
    return np.asarray(rated * share)


def _sun(
    design: Design,
    t_s: NDArray[np.int64],
    day: NDArray[np.int64],
    air_c: Floats,
    meters: list[_Meters],
    drawn: np.random.Generator,
) -> dict[str, Floats]:
    """Power of every controller [W]: clear sky behind clouds that come and go, as much of it as its faults leave."""
    clear = clear_sun(design, t_s, air_c).watts
    cloudy = np.repeat(np.clip(0.55 + _wandering(drawn, 365, 0.3, 0.5), 0.0, 1.0), DAY_S // MINUTE_S)
    passing = np.repeat(drawn.uniform(0, 1, len(t_s) // 10 + 1), 10)[: len(t_s)]
    sky = np.where(passing < cloudy, 1.0, 0.25) * (1 + 0.01 * drawn.standard_normal(len(t_s)))
    found = {}
    for tag, watts in clear.items():
        light = np.array([one.light.get(tag, 1.0) for one in meters])[day]
        found[tag] = np.maximum(0.0, watts * sky * light + np.where(watts > 0, drawn.standard_normal(len(t_s)), 0.0))
    return found


def _metered(
    design: Design,
    t_s: NDArray[np.int64],
    day: NDArray[np.int64],
    meters: list[_Meters],
    air_c: Floats,
    ac_w: Floats,
    sun_w: dict[str, Floats],
    drawn: np.random.Generator,
) -> Year:
    """What meters show, minute by minute, with the bank's charge kept."""
    units = len(design.job.inverters.units)
    curve = loss_curve(design.job.inverters)
    each = ac_w / units
    beside = np.array([one.beside_w for one in meters])[day]
    taken_w = ac_w + units * (curve.p0_w + curve.r1 * each + curve.r2_per_w * each**2) + beside
    packs = Plant(design).packs
    capacity = packs.capacity_ah * len(packs.strings)
    rest = np.array([packs.rest_v(share) for share in np.linspace(0, 1, 101)])
    bank_v = np.full(len(t_s), design.bank.nominal_v.value)
    for _ in range(2):  # the second time with the voltages of the first
        wanted_a = (sum(sun_w.values()) - taken_w) / bank_v
        soc, shore_a, flowing = _kept(wanted_a, capacity, float(design.job.inverters.spec.charge_a) * units)
        at = soc * 100
        low = np.clip(at.astype(int), 0, 99)
        rest_v = rest[low] + (at - low) * (rest[low + 1] - rest[low])
        bank_v = rest_v + flowing * design.bank.resistance_ohm.value
    main_ohm = np.array([one.main_ohm for one in meters])[day]
    scale = np.minimum(1.0, np.where(wanted_a > 0, flowing / np.maximum(wanted_a + shore_a, 1e-6), 1.0)).clip(0, 1)
    size = len(t_s)

    def noise(of: float) -> Floats:
        return np.asarray(of * drawn.standard_normal(size))

    unit_a = taken_w / (bank_v + flowing * main_ohm)
    columns = {
        "Bank V": bank_v + noise(NOISE_V),
        "Bank A": flowing + noise(NOISE_A),
        "SOC %": 100 * soc,
        "Bars V": bank_v + flowing * main_ohm + noise(NOISE_V),
    }
    columns |= {f"{tag} W": watts * np.where(wanted_a > 0, scale, 1.0) for tag, watts in sun_w.items()}
    shares = np.array([one.shares for one in meters])
    tags = ["–".join(one.tags) for one in packs.strings]
    for at_string, tag in enumerate(tags):
        columns[f"{tag.partition('–')[0]} A"] = -flowing * shares[day, at_string] + noise(NOISE_A)
    columns["Inverter DC A"] = unit_a + noise(NOISE_A)
    columns["AC W"] = ac_w
    columns["Air degC"] = air_c
    return Year(t_s, columns)


def _kept(wanted_a: Floats, capacity_ah: float, shore_a: float) -> tuple[Floats, Floats, Floats]:
    """Charge of the bank as a share, what a source outside puts in, and what flows into the bank [A], minute by minute:
    full, the sun is cut; below a fifth it is plugged in until four fifths.
    """
    share, plugged = 0.7, False
    by = 1 / 60 / capacity_ah
    soc, outside, flowing = [], [], []
    for amps in wanted_a.tolist():
        plugged = share < 0.2 or (plugged and share < 0.8)
        put = shore_a if plugged else 0.0
        net = amps + put
        if net > 0 and share >= 0.995:
            net = max(0.0, (1.0 - share) / by * 0.05)
        share += net * by
        soc.append(share)
        outside.append(put)
        flowing.append(net)
    return np.array(soc), np.array(outside), np.array(flowing)


DEMO_SEED = "a year of readings"


def demo_drifts(design: Design) -> tuple[Planted, ...]:
    """The three drifts of the demo's year: a face of the main fuse works loose in May, a string stands in shade from
    August, something stays on from October.
    """
    string = next(one.tag for one in design.roof.strings if one.modules)
    return (
        Planted(date(2027, 5, 11), Fault("fuse joint", MAIN_RUN)),
        Planted(date(2027, 8, 3), Fault("shaded string", string)),
        Planted(date(2027, 10, 20), Fault("left on", MAIN_RUN)),
    )


def write_year(year: Year, path: Path) -> None:
    """The year as CSV, times in UTC. Raises OSError."""
    with replacing(path) as file:
        file.write(("Time," + ",".join(year.columns) + "\n").encode())
        stamps = np.datetime_as_string(year.t_s.astype("datetime64[s]"), unit="m")
        values = np.stack(list(year.columns.values()), axis=1)
        line = "%s" + ",%.3f" * values.shape[1] + "\n"
        for start in range(0, len(stamps), 10_000):
            rows = zip(stamps[start : start + 10_000].tolist(), values[start : start + 10_000].tolist(), strict=True)
            file.write("".join(line % (f"{stamp}Z", *row) for stamp, row in rows).encode())


def write_demo_year(design: Design, seed: str | None, path: Path) -> Path:
    """Write the demo's year of this plant as CSV; `seed` none: the demo's own. Raises OSError."""
    write_year(planted_year(design, demo_drifts(design), seed=seed or DEMO_SEED), path)
    return path
