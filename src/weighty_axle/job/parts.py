"""Parts as their datasheets state them. A job holds its own copy, so that it stays true when a library changes."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import Amperes, CellVolts, Celsius, Coefficient, Efficiency, Kilograms, Name, Size, Stated, Volts


class PackSpec(Stated, frozen=True, kw_only=True):
    """One battery pack as its datasheet states it. Resistance is the whole pack's, terminal to terminal; `energy_wh` is the label's."""

    name: Name
    cells_in_series: Annotated[int, Meta(ge=1, le=32)]
    cell_nominal_v: CellVolts
    cell_max_v: CellVolts
    cell_min_v: CellVolts
    capacity_ah: Annotated[float, Meta(ge=0.5, le=5000)]
    charge_a: Annotated[float, Meta(ge=0.1, le=5000)]
    discharge_a: Annotated[float, Meta(ge=0.1, le=5000)]
    peak_a: Annotated[float, Meta(ge=0.1, le=10_000)]
    peak_s: Annotated[float, Meta(ge=0.001, le=600)]
    resistance_ohm: Annotated[float, Meta(ge=1e-5, le=1)]
    mass_kg: Kilograms
    size: Size
    series_limit: Annotated[int, Meta(ge=1, le=16)]
    parallel_limit: Annotated[int, Meta(ge=1, le=64)]
    heated: bool
    chemistry: Literal["lfp", "nmc"] = "lfp"
    energy_wh: Annotated[float, Meta(ge=1, le=1_000_000)] | None = None
    charge_low_c: Celsius = 0.0
    charge_high_c: Celsius = 45.0
    discharge_low_c: Celsius = -20.0
    discharge_high_c: Celsius = 55.0
    fuse_a: Annotated[float, Meta(ge=0.1, le=5000)] | None = None


class OverloadPoint(Stated, frozen=True, array_like=True):
    """How long an inverter stands a load: [times its continuous rating, seconds until it switches off]."""

    times: Annotated[float, Meta(ge=1.001, le=10)]
    seconds: Annotated[float, Meta(ge=0.001, le=7200)]


class InverterSpec(Stated, frozen=True, kw_only=True):
    """One inverter-charger as its datasheet states it; `overload` holds typed points besides the surge, rising.

    `lines` is 2 for a unit that gives two legs with their neutral; `ac_v` is then the voltage across both. `sleep_w` is taken while it looks for loads
    (empty: it cannot), `off_w` while switched off. `opens_neutral`: its relay opens the neutral to the input while it inverts.
    `takes_in_phase`: stacked with others, it accepts a source that feeds both legs alike.
    """

    name: Name
    ac_v: Annotated[float, Meta(ge=12, le=1000)]
    lines: Annotated[int, Meta(ge=1, le=2)] = 1
    continuous_va: Annotated[float, Meta(ge=10, le=100_000)]
    full_to_c: Celsius
    derate_per_c: Annotated[float, Meta(ge=0, le=0.1)]
    surge_va: Annotated[float, Meta(ge=10, le=300_000)]
    surge_s: Annotated[float, Meta(ge=0.001, le=600)]
    overload: Annotated[tuple[OverloadPoint, ...], Meta(max_length=8)] = ()
    no_load_w: Annotated[float, Meta(ge=0.01, le=1000)]
    peak_efficiency: Efficiency
    full_load_efficiency: Efficiency
    dc_min_v: Volts
    dc_max_v: Volts
    charge_a: Amperes
    transfer_a: Amperes
    sleep_w: Annotated[float, Meta(ge=0, le=1000)] | None = None
    off_w: Annotated[float, Meta(ge=0, le=100)] = 0.5
    opens_neutral: bool = True
    takes_in_phase: bool = True
    mass_kg: Kilograms
    size: Size


class ModuleSpec(Stated, frozen=True, kw_only=True):
    """One solar module as its datasheet states it at 1000 W/m2 and 25 degC; coefficients per kelvin of the 25 degC value.

    `reverse_a` is the largest series fuse. `sections` have a bypass diode each, side by side across the short side; `half_cut` modules carry each twice.
    """

    name: Name
    length_m: Annotated[float, Meta(ge=0.05, le=60)]
    width_m: Annotated[float, Meta(ge=0.05, le=60)]
    pmp_w: Annotated[float, Meta(ge=1, le=2000)]
    voc_v: Volts
    isc_a: Annotated[float, Meta(ge=0.01, le=100)]
    vmp_v: Volts
    imp_a: Annotated[float, Meta(ge=0.01, le=100)]
    voc_per_c: Coefficient
    pmp_per_c: Coefficient
    isc_per_c: Annotated[float, Meta(ge=-0.002, le=0.002)] = 0.0005
    system_limit_v: Volts
    reverse_a: Annotated[float, Meta(ge=0.1, le=200)] = 25.0
    sections: Annotated[int, Meta(ge=1, le=12)] = 3
    half_cut: bool = False
    mass_kg: Kilograms


class ControllerSpec(Stated, frozen=True, kw_only=True):
    """One charge controller as its datasheet states it.

    To start it wants the modules `start_margin_v` over the bank, or an absolute `start_v`; once it runs, `run_margin_v` over the bank is enough.
    """

    name: Name
    max_pv_v: Volts
    max_isc_a: Annotated[float, Meta(ge=0.1, le=500)]
    output_a: Annotated[float, Meta(ge=0.1, le=500)]
    start_margin_v: Annotated[float, Meta(ge=0, le=100)]
    run_margin_v: Annotated[float, Meta(ge=0, le=100)] = 1.0
    start_v: Annotated[float, Meta(ge=0.1, le=1000)] | None = None
    mass_kg: Kilograms
    size: Size


class AlternatorChargerSpec(Stated, frozen=True, kw_only=True):
    """A DC-DC charger between the starting battery and the bank; its datasheet states `output_a`, or `output_w`, or both and then it gives the less."""

    name: Name
    output_w: Annotated[float, Meta(ge=1, le=20_000)] | None = None
    output_a: Annotated[float, Meta(ge=0.1, le=500)] | None = None
    efficiency: Efficiency
    mass_kg: Kilograms
    size: Size
