"""What a conductor loses in a year."""

from __future__ import annotations

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.choices import ConductorChoice
from weighty_axle.design.wiring.runs import Run

DAYS = 365


def loss_a_year(design: Design, run: Run, one: ConductorChoice) -> Figure | None:
    """Energy lost in a run made of a conductor, every day being the design day; None where nothing says how the current
    of the run goes through the day (chargers), or where no current is told.

    An inverter's lead carries its share of the bank's current.

    Source: textbook relation (mean square of the current).
    """
    units = {unit.tag for unit in design.job.inverters.units}
    main = design.wiring.main
    if not run.current_a.value or not main.current_a.value or not (run is main or run.end in units):
        return None
    share = 1.0 if run is main else 1 / max(1, sum(other.end in units for other in design.wiring.runs))
    profile = design.brief.profiles[design.brief.days[design.brief.design_day].profile]
    volts = design.bank.nominal_v.value
    square = sum(
        (share * watts / volts) ** 2 * hours
        for watts, hours in zip(profile.bank_w, profile.mean_w.hours(), strict=True)
    )
    ohm = Given("Resistance, out and back", one.drop_v / run.current_a.value, "ohm")
    days = Given("Days", DAYS, "days")
    mean = Given("Current squared over a day", square, "A²h")
    return Figure.product(
        name=f"{run.tag} loses in a year",
        unit="Wh",
        formula="resistance × current² over a day × days",
        inputs=(ohm, mean, days),
        source=TEXTBOOK,
        limit=f"every day as {design.brief.days[design.brief.design_day].name}",
    )
