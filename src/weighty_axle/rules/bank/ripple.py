"""The rule of the current that swings at twice the mains frequency."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import over
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "bank.ripple",
    "check",
    (
        "At the lowest voltage the inverters draw {mean} with {swing} swinging on it, {effective} effective; the packs "
        "allow {limit}."
    ),
    "textbook relation: single-phase power swings about its mean",
)
def ripple_over(design: Design) -> Iterator[Hit]:
    """Effective current, ripple counted, above what the packs allow for good."""
    swing, limit = design.ripple, design.bank.discharge_limit_a
    if over(swing.effective_a.value, limit.value):
        tags = tuple(pack.tag for pack in design.job.bank.packs)
        yield hit(*tags, mean=swing.mean_a, swing=swing.swing_a, effective=swing.effective_a, limit=limit)
