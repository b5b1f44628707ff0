"""What chargers cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.charging import Charging


def charging_problems(charging: Charging) -> Iterator[Problem]:
    """Chargers whose output nothing says."""
    for charger in charging.alternator_chargers:
        if charger.spec.output_w is None and charger.spec.output_a is None:
            yield Problem(
                f"charging.alternator_chargers[{charger.tag}].spec.output_a",
                f"{charger.tag} needs an output in A or in W.",
            )
