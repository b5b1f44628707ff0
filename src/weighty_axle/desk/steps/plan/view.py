"""Plan: who does what, and when; what was tightened and written down."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class PlanView(StepView):
    """Who does what, and when; what was tightened and written down."""

    leaf_classes = (
        ("Bars", "bars.BarsLeaf"),
        ("Day", "day.DayLeaf"),
        ("Joints", "joints.JointsLeaf"),
        ("Log", "log.LogLeaf"),
        ("People", "people.PeopleLeaf"),
        ("Tools", "tools.ToolsLeaf"),
    )
