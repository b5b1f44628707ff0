"""Rules of the build: joints without a record, boards that cannot be built, people and tasks that do not fit."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.plan import SKILL_WORDS
from weighty_axle.answers.plan.tasks import skills_needed
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.physics.search.scheduling import CircleError, Work, order_of
from weighty_axle.rules.registry import Hit, hit, rule

BEFORE_POWER = ("inspect", "first power", "settings", "acceptance", "handover")
"""Tasks that may not be done while a joint has no record."""


def _done(design: Design) -> set[str]:
    return {one.task for one in design.whole.build.said if one.done_on}


@rule(
    "plan.joint-unrecorded",
    "stop",
    "{task} is said to be done, and {count} of {all} joints have no torque record: {first}.",
    PRACTICE,
    "Tighten, mark and write down every joint before anything is energised.",
)
def joint_unrecorded(design: Design) -> Iterator[Hit]:
    """Power before every joint is tightened and written down."""
    powered = [task for task in BEFORE_POWER if task in _done(design)]
    if design.system.key or not powered:
        return
    due = joints_due(design)
    open_ = [one for one in due if one.record is None]
    if open_:
        first = ", ".join(one.key for one in open_[:4]) + (" …" if len(open_) > 4 else "")
        yield hit(
            *dict.fromkeys(tag for one in open_[:4] for tag in one.about),
            task=powered[0],
            count=str(len(open_)),
            all=str(len(due)),
            first=first,
        )


@rule(
    "plan.joints-to-do",
    "note",
    "{count} of {all} joints are tightened and written down; all must be before first power.",
    PRACTICE,
)
def joints_to_do(design: Design) -> Iterator[Hit]:
    """How far the records are, once somebody has begun them."""
    if design.system.key or not design.whole.build.torques or any(one in _done(design) for one in BEFORE_POWER):
        return
    due = joints_due(design)
    done = sum(1 for one in due if one.record is not None)
    if done < len(due):
        yield hit(count=str(done), all=str(len(due)))


@rule(
    "plan.torque-off",
    "check",
    "{joint} is tightened to {found}; its {stud} stud wants {wanted}.",
    "reference/studs.json (recalled); the value on the part wins",
    "Look at the part; tighten it again to its value, or write down why.",
)
def torque_off(design: Design) -> Iterator[Hit]:
    """A record far from what the stud wants."""
    if design.system.key or not design.whole.build.torques:
        return
    for one in joints_due(design):
        if one.off and one.record is not None:
            yield hit(
                *one.about,
                joint=one.key,
                found=f"{one.record.torque_nm:g} N m",
                stud=one.stud,
                wanted=f"{one.wanted_nm:g} N m",
            )


@rule("plan.board-fault", "check", "{board}: {what}", PRACTICE, "Lay the board out again, or take a larger plate.")
def board_fault(design: Design) -> Iterator[Hit]:
    """A board whose units overlap, stand over its edge, or have too little room."""
    if design.system.key or not design.whole.assemblies:
        return
    for one in board_plans(design):
        for what in one.faults[:3]:
            yield hit(one.tag, board=one.name, what=what)


@rule(
    "plan.nobody",
    "check",
    "Nobody who builds can do {skill}, and there is {work}.",
    PRACTICE,
    "Somebody else, or another skill: until then it is planned for anybody.",
)
def nobody(design: Design) -> Iterator[Hit]:
    """Work that none of the stated people can do."""
    workers = design.whole.build.workers
    if design.system.key or not workers:
        return
    can = {skill for one in workers for skill in one.skills}
    if any(not one.skills for one in workers):
        return
    for skill, work in skills_needed(design).items():
        if skill not in can:
            yield hit(skill=SKILL_WORDS[skill], work=work)


@rule("plan.circle", "check", "These tasks wait for one another: {circle}.", PRACTICE, "Take one of the links away.")
def circle(design: Design) -> Iterator[Hit]:
    """Own tasks that make the plan wait for itself."""
    if design.system.key or not design.whole.build.own:
        return
    own = design.whole.build.own  # tasks of the design come after none of them
    at = {one.tag: number for number, one in enumerate(own)}
    try:
        order_of([Work(1, tuple(at[key] for key in one.after if key in at), (0,)) for one in own])
    except CircleError as error:
        yield hit(circle=" → ".join(own[one].name for one in (*error.circle, error.circle[0])))
