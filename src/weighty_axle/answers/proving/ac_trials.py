"""Acceptance of the AC side: voltages, legs, residual-current devices, sockets, every place to plug in, generators."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.proving.trial import Trials, predicted
from weighty_axle.design.figures import Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import LINES, Stacking, line_v
from weighty_axle.reference.profiles import LOW_LINE_V

RCD_MS = 300.0
"""Longest time of a 30 mA device at its rated residual current. Source: IEC 61008-1 table 1 (recalled)."""

PERSONAL_MA = 6.0
"""Up to here a device is of the personal kind: (20 ÷ I)^1.43 s at its current. Source: UL 943 (recalled)."""

LINE_TO_LINE: dict[Stacking, float] = {
    "split_phase": 2.0,
    "one_two_legs": 2.0,
    "legs_in_phase": 0.0,
    "three_phase": 3**0.5,
}
"""Voltage between two lines over that of one, by stacking. Source: phasors."""
_SEEN = {"two legs in phase": 0.0, "two legs half a turn apart": 2.0, "two legs a third of a turn apart": 3**0.5}

LINE_SHARE = 0.06
"""A line may be so far off its voltage. Source: common practice, no source."""

EARTH_MA = 15.0
"""What filters may leak into the earth of a cord [mA]. Source: common practice, no source."""

GENERATOR_HZ = (-1.0, 3.0)
"""A governed set runs fast without load and slow under it, by so much [Hz]. Source: common practice, no source."""


def ac_trials(own: Design) -> Iterator[Check]:
    """Tests of a system's AC side; none where it has no inverters.

    Source: IEC 61008-1, UL 943 (recalled); common practice, no source.
    """
    made = _AcTrials(own)
    yield from made.alternating()
    yield from made.sources()
    yield from made.generators()


class _AcTrials(Trials):
    """The tests while they are made."""

    def alternating(self) -> Iterator[Check]:
        """Voltage of every line and between lines, earth, residual-current devices, sockets."""
        stack = self.design.job.inverters
        if not stack.units:
            return
        volts = line_v(stack)
        yield from self._between_legs(volts)
        yield from self._line_volts(volts)
        if stack.sources:
            yield self._earth()
        for panel in self.design.ac.panels:
            if panel.rcd_ma:
                yield self._residual(panel.tag, panel.name, panel.rcd_ma)
        for one in self.design.circuits:
            if one.circuit.rcd_ma:
                yield self._residual(one.tag, one.name, one.circuit.rcd_ma)
            if one.circuit.outlets:
                yield self.tick(
                    f"{one.tag} sockets",
                    "AC side",
                    f"{one.tag} {one.name}: every socket by the tester: line, neutral and earth right",
                    (one.tag,),
                )

    def _residual(self, tag: str, name: str, rcd_ma: float) -> Check:
        most_ms = RCD_MS if rcd_ma > PERSONAL_MA else (20 / PERSONAL_MA) ** 1.43 * 1000
        at_ma = max(rcd_ma, PERSONAL_MA)
        return self.read(
            f"{tag} RCD",
            "AC side",
            f"{tag} {name}: time to trip at {at_ma:g} mA, ms",
            (tag,),
            None,
            0.0,
            most_ms,
            "ms",
            "replace the device; it must not stay in use",
        )

    def _earth(self) -> Check:
        """What comes back by the earth while plugged in: the load's own current where there are two bonds."""
        means = "neutral and earth are joined a second time (two bonds), or by a fault: load comes back by earth"
        found = self.read(
            "earth current",
            "AC side",
            "Clamp round the earth of the cord, plugged in, half of the load on, mA",
            (),
            None,
            0.0,
            EARTH_MA,
            "mA",
            means,
        )
        value = found.reading.value if found.reading is not None else None
        # However much it is: amperes come back by earth, it is no slip of the hand.
        if found.verdict == "asked" and value is not None:
            return replace(found, verdict="bad", says=f"{value:g} mA: {means}")
        return found

    def _line_volts(self, volts: float) -> Iterator[Check]:
        """Every line to neutral at full load; one high by what another is low is a lost neutral."""
        lines = LINES[self.design.job.inverters.stacking]
        keys = {line: f"{line} volts" for line in lines}
        read = {line: self.value(key) for line, key in keys.items()}
        for line, key in keys.items():
            found = self.read(
                key,
                "AC side",
                f"{line if len(lines) > 1 else 'AC'} voltage at full load, line to neutral, at the panel",
                (),
                None,
                volts * (1 - LINE_SHARE),
                volts * (1 + LINE_SHARE),
                "V",
                "an inverter limits, a neutral is loose, or it is set for another country",
            )
            value = read[line]
            others = [each for other, each in read.items() if other != line and each is not None]
            if found.verdict == "bad" and value is not None and others:
                apart = value - volts
                if any(apart * (each - volts) < 0 and abs(apart + each - volts) < 0.08 * volts for each in others):
                    says = (
                        f"{value:g} V: one line is as much over {volts:g} V as the other is under it. The neutral is "
                        "lost on the way: switch off at once, nothing on board stands this for long"
                    )
                    found = replace(found, says=says)
            yield found

    def _between_legs(self, volts: float) -> Iterator[Check]:
        """What a meter shows from one line to the next: it tells how the inverters act together."""
        stack = self.design.job.inverters
        lines = LINES[stack.stacking]
        times = LINE_TO_LINE.get(stack.stacking)
        if times is None:
            return
        wanted = predicted(
            f"From {lines[0]} to {lines[1]}",
            volts * times,
            "V",
            "line voltage × what the stacking makes of it",
            (Given("Line to neutral", volts, "V"), Given("Times", times, "1")),
        )
        slack = 0.06 * volts
        found = self.read(
            "legs volts",
            "AC side",
            f"Voltage from {lines[0]} to {lines[1]}, at the panel",
            tuple(unit.tag for unit in stack.units),
            wanted,
            max(0.0, wanted.value - slack),
            wanted.value + slack,
            "V",
            "the inverters do not act together as they should: roles, data leads, country",
        )
        value = found.reading.value if found.reading is not None else None
        if found.verdict in ("bad", "asked") and value is not None:
            for name, factor in _SEEN.items():
                if factor != times and abs(value - volts * factor) <= slack:
                    says = f"{value:g} V is what {name} give: a leg is swapped, or the role of a unit is not set"
                    found = replace(found, verdict="bad", says=says)
        yield found

    def sources(self) -> Iterator[Check]:
        for source in self.design.job.inverters.sources:
            yield self.tick(
                f"{source.tag} source",
                "Sources",
                f"{source.name}: plugged in, its limit kept under a large load, unplugged at half load without a blink",
                (source.tag,),
            )

    def generators(self) -> Iterator[Check]:
        """Voltage and beat of every generator under what it is asked for."""
        by_tag = {one.tag: one for one in self.design.job.inverters.sources}
        hertz = 60.0 if line_v(self.design.job.inverters) < LOW_LINE_V else 50.0
        for run in self.design.generators:
            source = by_tag.get(run.tag)
            if source is None:
                continue  # of another system on this bank
            load = f"{run.name} at {run.gives_w.value * run.load_share.value:.0f} W"
            yield self.read(
                f"{run.tag} volts",
                "Sources",
                f"{load}: voltage at the inlet",
                (run.tag,),
                None,
                source.volts * 0.9,
                source.volts * 1.06,
                "V",
                "overloaded, its regulator, or a lead too thin and too long",
            )
            yield self.read(
                f"{run.tag} hertz",
                "Sources",
                f"{load}: frequency",
                (run.tag,),
                None,
                hertz + GENERATOR_HZ[0],
                hertz + GENERATOR_HZ[1],
                "Hz",
                "its governor; the inverters refuse a beat that is too far off",
            )
