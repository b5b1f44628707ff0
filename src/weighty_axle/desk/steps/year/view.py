"""Year: the customer's year lived hour by hour, what the weather does to it, and what it costs."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class YearView(StepView):
    """The customer's year lived hour by hour, what the weather does to it, and what it costs."""

    leaf_classes = (
        ("Course", "course.CourseLeaf"),
        ("Months", "months.MonthsLeaf"),
        ("Weathers", "weathers.WeathersLeaf"),
        ("Sweep", "sweep.SweepLeaf"),
        ("Fix", "fix.FixLeaf"),
        ("Proposals", "proposals.ProposalsLeaf"),
        ("Variants", "variants.VariantsLeaf"),
        ("Prices", "prices.PricesLeaf"),
    )
