"""Rules of step Brief about equipment found on board: what must not stay as it is, why, and what to do with the loose
end.
"""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.brief.equipment import acts, battery_of, is_house_battery, way_round
from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.brief import Disposition, Existing
from weighty_axle.rules.registry import Hit, hit, rule, volts

DISPOSITION_WORDS: dict[Disposition, str] = {
    "undecided": "undecided",
    "keep": "keep",
    "reprogram": "reprogram",
    "isolate": "isolate",
    "replace": "replace",
    "remove": "remove",
}
LOOSE_END = "Pull its fuse, cap and tape both cable ends, label them with tag and date, so that it can be undone."


def _acting(design: Design, *kinds: str) -> Iterator[Existing]:
    for piece in design.job.existing:
        if acts(piece) and piece.kind in kinds:
            yield piece


def _set_over(one: Existing, bank: int) -> bool:
    """Whether a piece is to be reprogrammed and can be set to the bank's voltage."""
    return (
        one.disposition == "reprogram"
        and one.can_reprogram
        and one.also_v is not None
        and voltage_class(one.also_v) == bank
    )


def _make(one: Existing, disposition: Disposition) -> Edit:
    words = DISPOSITION_WORDS[disposition]
    return set_value(f"existing[{one.tag}].disposition", disposition, f"{words[0].upper()}{words[1:]} {one.name}")


@rule(
    "brief.charger-on-inverter",
    "stop",
    "{item} is fed from an inverter's output and charges what feeds that inverter{way}: the loop only makes heat.",
    PRACTICE,
    f"Move its supply to before the inverter, or take it out. {LOOSE_END}",
)
def charger_on_inverter(design: Design) -> Iterator[Hit]:
    """An energy loop, straight or by way of links between batteries."""
    names = {piece.tag: piece.name for piece in design.job.existing}
    for one in _acting(design, "charger"):
        path = way_round(one, design.job.existing) if one.fed_from == "inverter" else None
        if path is not None:
            way = "" if len(path) == 1 else f", by way of {' and '.join(names[tag] for tag in path[1:])}"
            yield hit(*path, item=one.name, way=way, remedy=_make(one, "remove"))


@rule(
    "brief.alternator-tied",
    "stop",
    "{item} ties the alternator straight to a lithium bank: the bank takes all it can give until it cooks.",
    PRACTICE,
    (
        "Put an alternator charger between, fused at the starting battery, with engine detection. Until then isolate "
        f"the link. {LOOSE_END}"
    ),
)
def alternator_tied(design: Design) -> Iterator[Hit]:
    """An alternator with nothing that limits its current."""
    for one in _acting(design, "alternator_link"):
        if one.ties_to == "house_bank":
            yield hit(one.tag, item=one.name, remedy=_make(one, "isolate"))


@rule(
    "brief.tow-wire",
    "stop",
    "{item} would go on charging the bank from the towing vehicle, with neither limit nor lithium profile.",
    PRACTICE,
    f"Isolate the wire at the plug and at the battery, or end it on a DC-DC charger. {LOOSE_END}",
)
def tow_wire(design: Design) -> Iterator[Hit]:
    """A tow vehicle's charge wire left on the bank."""
    for one in _acting(design, "tow_wire"):
        if one.ties_to == "house_bank":
            yield hit(one.tag, item=one.name, remedy=_make(one, "isolate"))


def _charge_limit(design: Design, one: Existing) -> Figure:
    """Highest voltage a lithium bank of the charger's own class stands."""
    spec, cells = design.job.bank.spec, voltage_class(one.nominal_v) // 3
    given = (Given("Cells in series", cells, "count"), Given("Cell voltage", spec.cell_max_v, "V"))
    return Figure(
        name=f"Highest at {one.tag}",
        value=cells * spec.cell_max_v,
        unit="V",
        formula="cells of its class × highest cell voltage",
        inputs=given,
        source="pack datasheet",
    )


@rule(
    "brief.charger-over-bank",
    "stop",
    "{item} reaches {reached}; a lithium bank of its voltage stands {limit} at most.",
    PRACTICE,
    (
        "Set a lithium profile where it has one and measure the highest voltage; else replace it. Until then switch it "
        "off at its breaker and tag the breaker."
    ),
)
def charger_over_bank(design: Design) -> Iterator[Hit]:
    """A charger above the bank's maximum; a reprogrammed one is settled."""
    for one in _acting(design, "charger", "solar_controller"):
        limit = _charge_limit(design, one)
        if (
            one.charge_max_v is not None
            and one.ties_to == "house_bank"
            and one.disposition != "reprogram"
            and over(one.charge_max_v, limit.value)
        ):
            yield hit(
                one.tag,
                item=one.name,
                reached=volts(one.charge_max_v),
                limit=limit,
                remedy=_make(one, "reprogram" if one.can_reprogram else "replace"),
            )


@rule(
    "brief.equalises",
    "stop",
    "{item} equalises: lithium must never be equalised.",
    PRACTICE,
    (
        "Turn equalising off and write down where; a charger whose stage cannot be turned off goes. Check again after "
        "every reset to factory settings."
    ),
)
def equalises(design: Design) -> Iterator[Hit]:
    """An equalise stage on a lithium bank."""
    for one in _acting(design, "charger", "solar_controller"):
        if one.equalises and one.ties_to == "house_bank" and one.disposition != "reprogram":
            yield hit(one.tag, item=one.name, remedy=_make(one, "reprogram" if one.can_reprogram else "replace"))


@rule(
    "brief.battery-link",
    "check",
    "{item} links starting and house battery by trickle or boost: made for two lead-acid batteries, not for lithium.",
    PRACTICE,
    f"Replace it by a charger with its own current limit and profile. {LOOSE_END}",
)
def battery_link(design: Design) -> Iterator[Hit]:
    """A combiner, trickle or boost link with the lithium bank at one end; between two lead-acid batteries that stay it
    may.
    """
    for one in _acting(design, "battery_link"):
        ends = {one.ties_to, battery_of(one, design.job.existing) if one.fed_from == "house_battery" else one.fed_from}
        if "house_bank" in ends:
            yield hit(one.tag, item=one.name, remedy=_make(one, "remove"))


@rule(
    "brief.controller-other-voltage",
    "stop",
    "{item} charges at {own} and is tied to the {bank} bank.",
    PRACTICE,
    (
        "Cover the modules or open their isolator first, then the battery side. Use a controller of the bank's "
        "voltage. Cap the module leads apart: they stay live."
    ),
)
def controller_other_voltage(design: Design) -> Iterator[Hit]:
    """A solar controller of another voltage on the new bank."""
    bank = voltage_class(design.bank.nominal_v.value)
    for one in _acting(design, "solar_controller"):
        if one.ties_to == "house_bank" and voltage_class(one.nominal_v) != bank and not _set_over(one, bank):
            takes_both = one.also_v is not None and voltage_class(one.also_v) == bank
            yield hit(
                one.tag,
                item=one.name,
                own=f"{one.nominal_v:g} V",
                bank=f"{bank} V",
                remedy=_make(one, "reprogram" if takes_both else "replace"),
            )


@rule(
    "brief.charger-other-voltage",
    "stop",
    "{item} charges at {own} and is tied to the {bank} bank.",
    PRACTICE,
    f"It can only keep up a battery of its own voltage. {LOOSE_END}",
)
def charger_other_voltage(design: Design) -> Iterator[Hit]:
    """A charger of another voltage on the new bank."""
    bank = voltage_class(design.bank.nominal_v.value)
    for one in _acting(design, "charger"):
        if one.ties_to == "house_bank" and voltage_class(one.nominal_v) != bank and not _set_over(one, bank):
            yield hit(one.tag, item=one.name, own=f"{one.nominal_v:g} V", bank=f"{bank} V", remedy=_make(one, "remove"))


@rule(
    "brief.unprotected-cable",
    "stop",
    "The cable of {item} has no fuse at the end that delivers current.",
    PRACTICE,
    (
        "Fit a fuse sized for the cable within reach of the battery's terminal before anything else is joined. Until "
        "then take the cable off the battery and cap it."
    ),
)
def unprotected_cable(design: Design) -> Iterator[Hit]:
    """Cable without protection at its source; a battery itself is judged with the bank."""
    for piece in design.job.existing:
        if acts(piece) and not piece.fused and piece.kind != "battery":
            # What the vehicle needs to run is not taken off with one press.
            needed = piece.kind in ("starter", "generator", "loads", "breaker")
            yield hit(piece.tag, item=piece.name, remedy=None if needed else _make(piece, "isolate"))


@rule(
    "brief.mixed-banks",
    "check",
    (
        "Batteries of {voltages} were found where one {bank} bank can feed everything: fewer chargers, one state of "
        "charge."
    ),
    PRACTICE,
    (
        "What feeds what afterwards is listed under On board. Take one bank over at a time, and label every old cable "
        "with the voltage it carried."
    ),
)
def mixed_banks(design: Design) -> Iterator[Hit]:
    """House batteries that stay beside the new bank."""
    found = [piece for piece in design.job.existing if is_house_battery(piece) and acts(piece)]
    voltages = sorted({voltage_class(one.nominal_v) for one in found} | {voltage_class(design.bank.nominal_v.value)})
    if found and len(voltages) > 1:
        words = ", ".join(f"{one} V" for one in voltages)
        yield hit(*(one.tag for one in found), voltages=words, bank=f"{voltage_class(design.bank.nominal_v.value)} V")


@rule(
    "brief.chemistry-mixed",
    "stop",
    "{item} is lead-acid and stays in parallel with the lithium bank.",
    PRACTICE,
    (
        "Disconnect the negative first, cap both leads. Lead-acid gives off hydrogen: ventilate, no sparks. It goes to "
        "a recycler."
    ),
)
def chemistry_mixed(design: Design) -> Iterator[Hit]:
    """Lead-acid left on the lithium bank."""
    for one in _acting(design, "battery"):
        if one.chemistry == "lead_acid" and one.ties_to == "house_bank":
            yield hit(one.tag, item=one.name, remedy=_make(one, "remove"))


@rule(
    "brief.breaker-voltage",
    "stop",
    "{item} may break {rated}; {what} reaches {highest}.",
    PRACTICE,
    "Replace it by one rated for the highest DC voltage there. Never switch it under load meanwhile; tag it so.",
)
def breaker_voltage(design: Design) -> Iterator[Hit]:
    """Breakers and switches not rated for the new voltage: the bank's, or that of the modules they are fed from."""
    opens = [string.cold_voc_v for string in design.roof.strings if string.modules] + [
        array.cold_voc_v for array in design.remote
    ]
    for one in _acting(design, "breaker"):
        if one.rated_v is None:
            continue
        if one.fed_from == "modules":
            highest, what = max(opens, key=lambda voc: voc.value, default=None), "a string in the cold"
        else:
            highest, what = (design.bank.max_v, "the bank") if one.ties_to == "house_bank" else (None, "")
        if highest is not None and over(highest.value, one.rated_v):
            yield hit(
                one.tag,
                item=one.name,
                rated=volts(one.rated_v),
                what=what,
                highest=highest,
                remedy=_make(one, "replace"),
            )


@rule(
    "brief.breaker-unrated",
    "check",
    "{item} is in the circuit of the modules and nothing says what it may break.",
    PRACTICE,
    "Read its label: direct current, two poles, the string's voltage in the cold. Without a label replace it.",
)
def breaker_unrated(design: Design) -> Iterator[Hit]:
    """A found breaker between modules and controller without a rating."""
    for one in _acting(design, "breaker"):
        if one.rated_v is None and one.fed_from == "modules":
            yield hit(one.tag, item=one.name, remedy=_make(one, "replace"))


@rule(
    "brief.inverter-beside",
    "stop",
    "{item} would stay beside the new inverters: two AC outputs and two neutral bonds must never meet.",
    PRACTICE,
    f"Take it out, or keep it on a panel of its own that nothing else feeds. {LOOSE_END}",
)
def inverter_beside(design: Design) -> Iterator[Hit]:
    """An old inverter left on the loads."""
    for one in _acting(design, "inverter"):
        if one.ties_to == "loads":
            yield hit(one.tag, item=one.name, remedy=_make(one, "remove"))


@rule(
    "brief.loads-other-voltage",
    "stop",
    "{item} is {own} equipment on the {bank} bank.",
    PRACTICE,
    "Feed it through a converter, fused at the converter's input. Pull the fuse of its old feed and label it.",
)
def loads_other_voltage(design: Design) -> Iterator[Hit]:
    """DC loads tied straight to a bank of another voltage."""
    bank = voltage_class(design.bank.nominal_v.value)
    for one in _acting(design, "loads"):
        if one.ties_to == "house_bank" and voltage_class(one.nominal_v) != bank:
            edit = set_value(f"existing[{one.tag}].ties_to", "none", f"Feed {one.name} through a converter")
            yield hit(one.tag, item=one.name, own=f"{one.nominal_v:g} V", bank=f"{bank} V", remedy=edit)


@rule(
    "brief.cannot-reprogram",
    "check",
    "{item} is to be reprogrammed, but it has no lithium settings.",
    PRACTICE,
    "Replace it, or prove the settings on the bench first.",
)
def cannot_reprogram(design: Design) -> Iterator[Hit]:
    """A disposition that cannot be carried out."""
    for piece in design.job.existing:
        if piece.disposition == "reprogram" and not piece.can_reprogram:
            yield hit(piece.tag, item=piece.name, remedy=_make(piece, "replace"))


@rule(
    "brief.undecided",
    "check",
    "Nothing is decided about {items}.",
    PRACTICE,
    "Keep, reprogram, isolate, replace or remove: each piece needs one word before work starts.",
)
def undecided(design: Design) -> Iterator[Hit]:
    """Pieces without a disposition."""
    found = [piece for piece in design.job.existing if piece.disposition == "undecided"]
    if found:
        names = found[0].name if len(found) == 1 else f"{found[0].name} and {len(found) - 1} more"
        yield hit(*(one.tag for one in found), items=names)
