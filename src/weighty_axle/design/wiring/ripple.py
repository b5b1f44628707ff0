"""What a single-phase inverter does to the DC side: current that swings at twice the mains frequency, and the voltage
that swings with it.
"""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.legs import InvertersResult
from weighty_axle.design.wiring.runs import WiringResult
from weighty_axle.job.models.inverters import Inverters

ALLOWED_SHARE = 0.05
"""Peak-to-peak ripple of the bank's nominal voltage at an inverter that needs no question.

Source: common practice, no source.
"""


class RippleResult(Struct, frozen=True, kw_only=True):
    """Swing of current and voltage with the worst loads at the lowest voltage; capacitors in the inverters would take
    part of it.
    """

    mean_a: Figure
    swing_a: Figure
    effective_a: Figure
    bank_v: Figure
    inverter_v: Figure
    allowed_v: Figure


def ripple(legs: InvertersResult, inverters: Inverters, bank: BankRatings, wiring: WiringResult) -> RippleResult:
    """Ripple of the bank's current and voltage.

    Source: textbook relation: power of a sine swings about its mean by its apparent power; on the safe side no
        capacitor takes any of it.
    """
    efficiency = Given("Efficiency at full load", inverters.spec.full_load_efficiency, "1")
    low = bank.lowest_working_v
    mean = Figure.quotient(
        name="Bank current in the worst minute, lowest voltage",
        unit="A",
        formula="Σ active power of the lines ÷ efficiency ÷ lowest working voltage",
        inputs=(legs.active_w, efficiency, low),
        source=TEXTBOOK,
        limit=legs.active_w.limit,
    )
    swing = Figure.quotient(
        name="Ripple current, peak",
        unit="A",
        formula="swinging power ÷ efficiency ÷ lowest working voltage",
        inputs=(legs.pulsating_va, efficiency, low),
        source=TEXTBOOK,
        limit=f"{legs.pulsating_va.limit}; twice the mains frequency, no capacitor counted on",
    )
    effective = Figure.quotient(
        name="Effective current, ripple counted",
        unit="A",
        formula="√(P² + swing² ÷ 2) of its own worst minute ÷ efficiency ÷ lowest working voltage",
        inputs=(legs.effective_va, efficiency, low),
        source=TEXTBOOK,
        limit=f"{legs.effective_va.limit}; what heats conductors and fuses",
    )
    at_bank = Figure(
        name="Ripple at the bank, peak to peak",
        value=2 * swing.value * bank.resistance_ohm.value,
        unit="V",
        formula="2 × peak × bank resistance",
        inputs=(swing, bank.resistance_ohm),
        source=TEXTBOOK,
    )
    main = wiring.main
    leads = [run for run in wiring.runs if run.end in {unit.tag for unit in inverters.units}]
    main_ohm = main.drop_share.value * bank.nominal_v.value / main.current_a.value if main.current_a.value else 0.0
    lead_ohm = max(
        (run.drop_share.value * bank.nominal_v.value / run.current_a.value for run in leads if run.current_a.value),
        default=0.0,
    )
    units = max(1, len(inverters.units))
    at_inverter = Figure(
        name="Ripple at an inverter, peak to peak",
        value=at_bank.value + 2 * swing.value * (main_ohm + lead_ohm / units),
        unit="V",
        formula="ripple at the bank + 2 × peak × (main run + lead ÷ units)",
        inputs=(
            at_bank,
            swing,
            Given("Main run, out and back", main_ohm, "ohm"),
            Given("Lead of a unit, out and back", lead_ohm, "ohm"),
            Given("Units", units, "count"),
        ),
        source=TEXTBOOK,
    )
    allowed = Figure(
        name="Ripple that needs no question",
        value=ALLOWED_SHARE * bank.nominal_v.value,
        unit="V",
        formula="5 % of the nominal voltage, peak to peak",
        inputs=(bank.nominal_v,),
        source=PRACTICE,
    )
    return RippleResult(
        mean_a=mean, swing_a=swing, effective_a=effective, bank_v=at_bank, inverter_v=at_inverter, allowed_v=allowed
    )
