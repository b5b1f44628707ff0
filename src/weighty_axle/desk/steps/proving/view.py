"""Tests: what was predicted against what was measured."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class ProvingView(StepView):
    """What was predicted against what was measured."""

    leaf_classes = (
        ("Acceptance", "acceptance.AcceptanceLeaf"),
        ("Live", "live.LiveLeaf"),
        ("Lesson", "lesson.LessonLeaf"),
        ("Handover", "handover.HandoverLeaf"),
    )
