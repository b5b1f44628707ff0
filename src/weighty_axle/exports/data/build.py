"""The build as open data: parts, cuts with reels, plan, labels, boards."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.cuts.labels import LabelText
from weighty_axle.answers.cuts.reels import CutState, KindCut
from weighty_axle.answers.parts.listing import PartsList
from weighty_axle.answers.plan.board import BoardPlan
from weighty_axle.answers.plan.plan import Plan
from weighty_axle.answers.plan.tools import Tool

Data = dict[str, Any]


def parts_data(listed: PartsList) -> Data:
    """All parts."""
    return {
        "cost": listed.cost.value,
        "mass_kg": listed.mass_kg.value,
        "parts": [
            {
                "part": one.part,
                "kind": one.kind,
                "wanted": one.wanted.value,
                "unit": "m" if one.by_metre else "1",
                "to_buy": one.to_buy.value,
                "price": one.price,
                "mass_kg": one.mass_kg,
                "status": one.status,
                "due": one.due.isoformat() if one.due is not None else None,
                "differs": one.differs,
                "for": list(one.of),
            }
            for one in listed.lines
        ],
        "left_over": [one.part for one in listed.left_over],
    }


def cuts_data(states: tuple[CutState, ...], kinds: tuple[KindCut, ...]) -> Data:
    """All conductors, and the reels they come off."""
    return {
        "cuts": [
            {
                "tag": one.cut.tag,
                "way": one.cut.way,
                "conductor": one.cut.sold_as,
                "colour": one.cut.colour,
                "cut_m": one.cut.cut_m.value,
                "start": {"at": one.cut.start.at, "with": one.cut.start.fitting, "label": one.cut.start.label},
                "end": {"at": one.cut.end.at, "with": one.cut.end.fitting, "label": one.cut.end.label},
                "turn": one.cut.turn,
                "cut_on": one.done.on if one.done is not None else None,
                "differs": one.differs,
            }
            for one in states
        ],
        "reels": [
            {
                "conductor": kind.sold_as,
                "colour": kind.colour,
                "bought_m": kind.bought_m.value,
                "waste_m": kind.scrap_m.value,
                "gap_m": kind.gap_m,
                "proven": kind.proven,
                "problem": kind.problem,
                "pieces": [
                    {
                        "name": use.name,
                        "new": use.new,
                        "length_m": use.length_m,
                        "cuts": [{"tag": piece.tag, "cut_m": piece.cut_m} for piece in use.off],
                        "left_m": use.left_m,
                        "kept": use.kept,
                    }
                    for use in kind.reels
                ],
            }
            for kind in kinds
        ],
    }


def plan_data(plan: Plan, needed: tuple[Tool, ...]) -> Data:
    """All tasks, who builds, tools."""
    return {
        "starts": plan.starts.isoformat(),
        "ends": plan.ends.isoformat(),
        "no_plan_ends_before": plan.no_sooner.isoformat(),
        "problems": list(plan.problems),
        "workers": [{"tag": one.tag, "name": one.name, "skills": list(one.skills)} for one in plan.workers],
        "tasks": [
            {
                "key": one.task.key,
                "task": one.task.words,
                "phase": one.task.phase,
                "skill": one.task.skill,
                "who": one.who,
                "hours_h": one.task.hours_h.value,
                "starts": one.starts.isoformat(),
                "ends": one.ends.isoformat(),
                "critical": one.critical,
                "after": list(one.task.after),
                "waits_for": one.waits_for or None,
                "done": one.done,
            }
            for one in plan.planned
        ],
        "tools": [{"tool": one.name, "must": one.must, "because": one.because} for one in needed],
    }


def labels_data(found: tuple[LabelText, ...]) -> list[Data]:
    """All labels."""
    return [{"kind": one.kind, "tag": one.tag, "lines": list(one.lines), "code": one.code} for one in found]


def boards_data(boards: tuple[BoardPlan, ...]) -> list[Data]:
    """All boards with their drilling centres, in millimetres from the lower left corner."""
    return [
        {
            "tag": one.tag,
            "name": one.name,
            "wide_mm": one.wide_mm,
            "high_mm": one.high_mm,
            "mass_kg": one.mass_kg.value,
            "middle_mm": list(one.middle_mm),
            "door": one.door,
            "faults": list(one.faults),
            "holes": [
                {"x_mm": hole.x_mm, "y_mm": hole.y_mm, "hole_mm": hole.hole_mm, "for": hole.tag} for hole in one.holes
            ],
            "ducts": [list(duct) for duct in one.ducts],
        }
        for one in boards
    ]
