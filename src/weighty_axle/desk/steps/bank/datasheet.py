"""A pack typed from its datasheet; slips are asked about, not refused."""

from __future__ import annotations

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import CHARGE, CURRENT, DURATION, ENERGY, LENGTH, MASS, RESISTANCE, VOLTAGE, System

FIELDS = (
    Field("Pack", "bank.spec.name", str, wide=2),
    Field(
        "Chemistry",
        "bank.spec.chemistry",
        (("lfp", "LFP"), ("nmc", "NMC"), ("flooded", "lead-acid, flooded"), ("agm", "lead-acid, AGM")),
    ),
    Field("Cells in series", "bank.spec.cells_in_series", int),
    Field("Cell, nominal", "bank.spec.cell_nominal_v", VOLTAGE),
    Field("Cell, highest", "bank.spec.cell_max_v", VOLTAGE),
    Field("Cell, lowest", "bank.spec.cell_min_v", VOLTAGE),
    Field("Capacity", "bank.spec.capacity_ah", CHARGE),
    Field("Energy on the label", "bank.spec.energy_wh", ENERGY, empty="not stated"),
    Field("Charge, for hours", "bank.spec.charge_a", CURRENT),
    Field("Discharge, for hours", "bank.spec.discharge_a", CURRENT),
    Field("BMS peak", "bank.spec.peak_a", CURRENT),
    Field("Peak lasts", "bank.spec.peak_s", DURATION),
    Field("Resistance, whole pack", "bank.spec.resistance_ohm", RESISTANCE),
    Field("Own fuse or breaker", "bank.spec.fuse_a", CURRENT, empty="none"),
    Field("In series at most", "bank.spec.series_limit", int),
    Field("In parallel at most", "bank.spec.parallel_limit", int),
    Field("Mass", "bank.spec.mass_kg", MASS),
    Field("Along", "bank.spec.size.length_m", LENGTH),
    Field("Across", "bank.spec.size.width_m", LENGTH),
    Field("High", "bank.spec.size.height_m", LENGTH),
)


class DatasheetLeaf(Leaf):
    """All fields of the pack, what seems to be a slip, and what the bank makes of it."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIELDS, 5)
        self.column.addWidget(self.fields)
        self._slips = Label()
        self._slips.setWordWrap(True)
        self.column.addWidget(self._slips)
        self.column.addStretch(1)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.figures)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        slips = [finding.sentence(self.system) for finding in shown.findings if finding.rule.id.startswith("bank.slip")]
        self._slips.setText(
            "\n".join(slips)
            or tr(
                "Nothing on this datasheet looks like a slip. Compare it with the label once more: volts, "
                "ampere-hours, watt-hours."
            )
        )
        self._slips.setObjectName("stop" if slips else "muted")
        self._slips.style().unpolish(self._slips)
        self._slips.style().polish(self._slips)
        bank = shown.design.bank
        self.figures.put(
            (
                bank.nominal_v,
                bank.max_v,
                bank.nominal_energy_wh,
                bank.capacity_ah,
                bank.equivalent_12v_ah,
                bank.prospective_a,
            )
        )
