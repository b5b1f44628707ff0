"""Changes to what the year is asked with: prices."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.year import Price


def set_price(part: str, amount: float | None) -> Edit:
    """State what a part costs; nothing takes the price away."""

    def apply(job: Job) -> Job:
        others = tuple(one for one in job.year.prices if one.part != part)
        stated = (Price(part=part, amount=amount),) if amount is not None else ()
        return replace(job, year=replace(job.year, prices=(*others, *stated)))

    label = f"{part} costs {amount:g}" if amount is not None else f"No price for {part}"
    return Edit(label, apply, system=WHOLE)
