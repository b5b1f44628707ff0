"""Rules of step Roof: arrays elsewhere, at their controller, by their plug and over their cable."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.roof import RemoteArray, array_of, controller_of
from weighty_axle.rules.registry import Hit, hit, rule, volts

REMOTE_DROP_SHARE = 0.03
"""Share of the voltage that the cable to an array elsewhere may lose. Source: common practice, no source."""


@rule(
    "roof.remote-over",
    "stop",
    "{array} reaches {voc} in the cold; {what} good for {limit}.",
    "NEC (NFPA 70) 2023 690.7(A), recalled; controller and module datasheet",
)
def remote_over(design: Design) -> Iterator[Hit]:
    """An array elsewhere above its controller's voltage or that of its own modules."""
    for one in design.remote:
        array = array_of(design.job.roof, one.tag)
        for what, limit in (
            (f"{one.controller} is", controller_of(design.job.roof, one.controller).spec.max_pv_v),
            ("its modules' insulation is", array.module.system_limit_v),
        ):
            if over(one.cold_voc_v.value, limit):
                yield hit(one.tag, one.controller, array=array.name, voc=one.cold_voc_v, what=what, limit=volts(limit))


@rule(
    "roof.remote-beside-roof",
    "stop",
    "{array} plugs into {controller}, beside {others}: their voltages do not match.",
    PRACTICE,
    "Give it a controller of its own, with a plug that fits nothing else.",
)
def remote_beside_roof(design: Design) -> Iterator[Hit]:
    """An array side by side with roof strings, or with another array of the same stays, of another voltage."""
    for at, one in enumerate(design.remote):
        own = array_of(design.job.roof, one.tag)
        others = [
            (string.tag, string.hot_vmp_v)
            for string in design.roof.strings
            if string.controller == one.controller and string.modules
        ]
        others += [
            (other.tag, other.hot_vmp_v)
            for other in design.remote[at + 1 :]
            if other.controller == one.controller and _together(own, array_of(design.job.roof, other.tag))
        ]
        unlike = [tag for tag, hot in others if abs(hot.value / one.hot_vmp_v.value - 1) > 0.05]
        if unlike:
            yield hit(
                one.tag, one.controller, *unlike, array=own.name, controller=one.controller, others=", ".join(unlike)
            )


def _together(one: RemoteArray, other: RemoteArray) -> bool:
    """Whether two arrays are ever set up at the same stay; one with no stays named is always there."""
    return not (one.stays and other.stays) or not set(one.stays).isdisjoint(other.stays)


@rule(
    "roof.plug-shared",
    "stop",
    "{array} and {other} have plugs of one key but belong to {first} and {second}: they can be plugged in wrongly.",
    PRACTICE,
)
def plug_shared(design: Design) -> Iterator[Hit]:
    """Plugs alike on arrays of different controllers."""
    arrays = design.job.roof.remote
    for index, one in enumerate(arrays):
        for other in arrays[index + 1 :]:
            if one.plug == other.plug and one.controller != other.controller:
                yield hit(
                    one.tag, other.tag, array=one.name, other=other.name, first=one.controller, second=other.controller
                )


@rule(
    "roof.plug-misfit",
    "stop",
    "The plug of {array} has key {plug}; the socket of {controller} has key {socket}.",
    PRACTICE,
)
def plug_misfit(design: Design) -> Iterator[Hit]:
    """A plug that does not fit its own controller's socket."""
    for array in design.job.roof.remote:
        own = controller_of(design.job.roof, array.controller)
        if array.plug and own.plug and array.plug != own.plug:
            remedy = set_value(f"roof.remote[{array.tag}].plug", own.plug, f"{array.name}: a plug of key {own.plug}")
            yield hit(
                array.tag,
                own.tag,
                array=array.name,
                plug=array.plug,
                controller=own.tag,
                socket=own.plug,
                remedy=remedy,
            )


@rule(
    "roof.plug-fits-other",
    "stop",
    "The plug of {array} also fits the socket of {controller}, which is not its own: it can be plugged in wrongly.",
    PRACTICE,
)
def plug_fits_other(design: Design) -> Iterator[Hit]:
    """A plug whose key is that of another controller's socket."""
    for array in design.job.roof.remote:
        for other in design.job.roof.controllers:
            if array.plug and other.tag != array.controller and other.plug == array.plug:
                yield hit(array.tag, other.tag, array=array.name, controller=other.tag)


@rule("roof.remote-drop", "check", "The cable to {array} loses {drop} at full sun.", PRACTICE)
def remote_drop(design: Design) -> Iterator[Hit]:
    """A long thin cable to an array."""
    for array in design.remote:
        if over(array.drop_share.value, REMOTE_DROP_SHARE):
            yield hit(array.tag, array=array_of(design.job.roof, array.tag).name, drop=array.drop_share)
