"""Cards: starting up, shutting down, storage, waking, emergency, step by step from this design's own switches, with
what you should see and what it means if you do not.
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.table import Design
from weighty_axle.units import System, show


class CardStep(Struct, frozen=True, kw_only=True):
    """A step: the switch by its tag, what is done, what is seen, and what it means if it is not."""

    tag: str
    do: str
    see: str
    if_not: str


class Card(Struct, frozen=True, kw_only=True):
    """A card: its key, title, when it is used, its steps."""

    key: str
    title: str
    when: str
    steps: tuple[CardStep, ...]


def cards(design: Design, units: System = "metric") -> tuple[Card, ...]:
    """Every card of the house's system and of the systems beside it.

    Source: order common practice, no source; figures from the design.
    """
    found: list[Card] = []
    for own in (design, *(one for one in design.others if not one.system.shares_bank)):
        groups = (one for one in design.others if one.system.shares_bank and one.system.bar == own.system.bar)
        made = _Cards((own, *groups), units)
        before = "" if own is design else f"{own.system.name}: "
        for key, title, when, steps in (
            ("start", "Starting up", "after every check before power, and after a shut-down", made.start()),
            ("stop", "Shutting down", "before work on the system, and before long storage", made.stop()),
            ("storage", "Putting to sleep", "when nobody uses it for weeks", made.storage()),
            ("waking", "Waking up", "after storage", made.waking()),
            ("emergency", "Emergency", "smoke, smell of burning, shock, crash, flood", made.emergency()),
        ):
            some = tuple(steps)
            if some:
                found.append(
                    Card(key=f"{own.system.key} {key}".strip(), title=f"{before}{title}", when=when, steps=some)
                )
    return tuple(found)


def _step(tag: str, do: str, see: str, if_not: str) -> CardStep:
    return CardStep(tag=tag, do=do, see=see, if_not=if_not)


class _Cards:
    """Cards of one system while they are made; groups that share its bank are switched with it."""

    def __init__(self, sides: tuple[Design, ...], units: System) -> None:
        own = sides[0]
        self.own, self.units = own, units
        bank = own.bank
        self.low, self.high = bank.lowest_working_v.value, bank.max_v.value
        self.volts = f"{self._v(self.low)} to {self._v(self.high)}"
        self.board = own.job.wiring.board
        self.managed = own.job.bank.spec.managed  # lead-acid cells have no switch, and are stored and feared otherwise
        self.sides = [one for one in sides if one.job.inverters.units]
        self.inverters = [(unit, one.job.inverters.spec.ac_v) for one in self.sides for unit in one.job.inverters.units]
        self.controllers = [one for one in own.job.roof.controllers if not one.unit]
        self.strings = [one for one in own.roof.strings if one.modules]
        self.converters = [one.converter for one in own.ends if one.starts_here]

    def _v(self, volts: float) -> str:
        return show(round(volts, 1), "V", self.units)

    # ---- starting up ----

    def start(self) -> Iterator[CardStep]:
        """Packs, main switch through pre-charge, inverters, controllers before their modules, converters, breakers."""
        job = self.own.job
        for pack in job.bank.packs:
            each = self.own.bank.nominal_v.value / job.bank.series
            if self.managed:
                do = "switch the pack on"
                wrong = "its electronics have switched it off: too low, too cold, or a short before it"
            else:
                do, wrong = "look at its posts: tight, clean, dry", "flat: charge it alone before it is used"
            yield _step(pack.tag, do, f"{self._v(each)} or near at its terminals", wrong)
        yield from self._main()
        for unit, ac_v in self.inverters:
            yield _step(
                unit.tag,
                "switch on, invert",
                f"{ac_v:.0f} V at its output, no alarm",
                "charger mode instead of inverting, stacking not set, or its data lead is out",
            )
        for one in self.controllers:
            yield _step(
                one.tag,
                "battery side on",
                f"it shows the bank: {self.volts}",
                "its fuse is out, or plus and minus are swapped: do not go on",
            )
        for string in self.strings:
            yield _step(
                string.tag,
                f"close the isolator at {string.controller}",
                f"at most {self._v(string.cold_voc_v.value)} on its array side; then it charges",
                "isolator half closed, a plug not in, or the sun too low",
            )
        for converter in self.converters:
            volts = converter.spec.output_v
            out = self._v(volts) if volts is not None else "its output voltage"
            yield _step(
                converter.tag, "switch on", out, "input fuse out, engine not seen, or its enable wire is missing"
            )
        yield from self._breakers()

    def _main(self) -> Iterator[CardStep]:
        """The main switch, through the pre-charge where there is one."""
        filling = self.own.precharge
        if filling is not None and filling.fitted:
            held = show(filling.held_s.value, "s", self.units)
            yield _step(
                self.board.tag,
                f"pre-charge, hold for {held}",
                f"less than {self._v(filling.left_v.value)} left across it",
                "a load draws while it fills: switch inverters off at their own switch",
            )
        elif filling is not None:
            amps = show(filling.peak_without_a.value, "A", self.units)
            yield _step(
                self.board.tag,
                f"there is no pre-charge: closing draws up to {amps} for a moment",
                "one spark at the most",
                "contacts that pit and weld: fit a pre-charge",
            )
        yield _step(
            self.board.tag,
            "close the main switch" if self.own.switched else "join the bank's leads, minus last",
            f"{self.volts} on the bars",
            "main fuse open" + (", or a pack has switched off on the inrush" if self.managed else ""),
        )

    def _breakers(self) -> Iterator[CardStep]:
        for panel in (one for side in self.sides for one in side.ac.panels):
            yield _step(
                panel.tag,
                f"its main breaker, {panel.breaker_a:g} A",
                "its voltage, line by line",
                "a residual-current device trips: an earth fault, or neutral and earth joined behind it",
            )
        for one in (one for side in self.sides for one in side.circuits):
            residual = ", press its test" if one.circuit.rcd_ma else ""
            yield _step(
                one.tag,
                f"{one.circuit.breaker_a:g} A, {one.name}{residual}",
                "trips at the test, holds when closed again" if residual else "holds, its loads run",
                "leave it off and look for the fault",
            )

    # ---- shutting down ----

    def stop(self) -> Iterator[CardStep]:
        """Loads and chargers first, modules, controllers, inverters, main switch, packs."""
        if self.inverters:
            yield _step(
                "", "unplug shore and generator, stop the engine", "nothing charges", "something still feeds the bank"
            )
            for panel in (one for side in self.sides for one in side.ac.panels):
                yield _step(panel.tag, "breakers off", "loads are dark", "a load hangs elsewhere")
        for converter in self.converters:
            yield _step(converter.tag, "switch off", "its output falls", "another converter holds its bar")
        for string in self.strings:
            yield _step(
                string.tag,
                f"open the isolator at {string.controller}",
                "no sun current",
                "the isolator is welded: cover the modules",
            )
        for one in self.controllers:
            yield _step(one.tag, "battery side off", "its display goes dark", "its modules are still on it")
        for unit, _ in self.inverters:
            yield _step(unit.tag, "switch off", "dark, its fan stops", "it is switched by another at a distance")
        if self.own.switched:
            yield _step(
                self.board.tag,
                "open the main switch",
                "bars fall slowly: capacitors empty in some minutes",
                "something still feeds the bars",
            )
        for pack in self.own.job.bank.packs:
            if self.managed:
                yield _step(pack.tag, "switch the pack off", "dark", "it has no switch: cover its terminals")
            else:
                yield _step(
                    pack.tag,
                    "left for long: take its minus lead off and cover it",
                    "nothing is drawn",
                    "others hang there",
                )

    # ---- storage ----

    def storage(self) -> Iterator[CardStep]:
        """Part charge, everything off that drains, how long it lasts."""
        alive = self.own.storage
        drawn = show(alive.alive_w.value, "W", self.units)
        lasts = show(alive.lasts_days.value, "days", self.units)
        if self.managed:
            yield _step(
                "",
                "charge or use the bank to about half",
                "40 to 60 % on the monitor",
                "lithium ages fast when stored full, and dies when stored empty",
            )
        else:
            yield _step(
                "",
                "charge the bank full, and again every month or two",
                "the charger holds it, its current has fallen",
                "lead-acid cells that stand half full lose capacity for good, and freeze when flat",
            )
        yield _step(
            "",
            "shut down by the card; leave on what must stay",
            f"{drawn} drawn",
            "something else is awake: look with the clamp meter",
        )
        yield _step(
            "",
            "write down the day and the charge",
            f"it lasts {lasts} from full like this",
            "look again in half that time",
        )

    def waking(self) -> Iterator[CardStep]:
        """Look, warm, start."""
        spec = self.own.job.bank.spec
        warm = show(spec.charge_low_c, "degC", self.units)
        yield _step("", "look at packs, boards, roof: no water, no swelling", "dry and clean", "do not switch on")
        if self.managed:
            yield _step(
                "", f"cells warmer than {warm} before anything charges", "as the packs show", "warm the bank first"
            )
        else:
            yield _step("", "no case is bulged: a flat bank freezes", "flat sides", "never charge it: it may burst")
        yield _step("", "start up by the card", f"{self.volts} on the bars", "a pack may have gone flat")

    # ---- emergency ----

    def emergency(self) -> Iterator[CardStep]:
        """People first; what stays live."""
        yield _step("", "people out, call for help; do not touch who is in contact", "everybody out", "")
        if self.own.switched:
            yield _step(
                self.board.tag,
                "open the main switch if you can reach it safely",
                "inverters fall silent" if self.inverters else "what hangs there goes dark",
                "leave it; say so to the fire brigade",
            )
        if self.inverters:
            yield _step("", "unplug shore, stop generator and engine", "nothing feeds it", "")
        if self.strings:
            most = max(string.cold_voc_v.value for string in self.strings)
            yield _step("", f"the roof stays live in light, up to {self._v(most)}: open isolators, or cover it", "", "")
        yield _step(
            "",
            f"the packs stay live, up to {self._v(self.high)}: water from a distance, much of it",
            "",
            "smoke from lithium cells is poisonous: upwind"
            if self.managed
            else "acid, and gas that explodes: no flames, upwind; off the skin with much water",
        )
