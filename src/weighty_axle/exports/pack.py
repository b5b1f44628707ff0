"""The pack: a PDF for the bench and the customer, and tables beside it. Black on white, text selectable."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.design.brief import DC_VOLTS
from weighty_axle.design.data_chain import data_chain
from weighty_axle.design.derive import Design
from weighty_axle.design.pv_protection import RoofCable
from weighty_axle.design.seasons import date_words
from weighty_axle.design.sharing import TAKE_OFF_WORDS
from weighty_axle.design.wiring import choice_name
from weighty_axle.exports.cards import selector_part, sources_part
from weighty_axle.exports.figures_json import design_data, findings_data
from weighty_axle.exports.letters import unprintable_words
from weighty_axle.exports.pdf_pages import Pages, write_pdf
from weighty_axle.exports.tables import circuits_csv, items_csv, settings_csv, states_csv
from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing
from weighty_axle.job.models.document import Job
from weighty_axle.rules.equipment import DISPOSITION_WORDS
from weighty_axle.rules.registry import SEVERITIES, Finding, Severity
from weighty_axle.units import System, conductor_words, digits, show

CAUTIONS = (
    "This program helps a competent person. It does not approve an installation.",
    "Local electrical codes, vehicle rules, makers' manuals and licensed trades outrank everything printed here.",
    "Bank terminals cannot be switched off: cover them, use insulated tools, wear no metal.",
    "Solar arrays are live whenever there is light.",
    "120, 230 and 240 V AC kill. Prove dead before touching; test every residual-current device.",
    "Mind gas and fuel lines, lifting, work at height, and hydrogen from old lead-acid banks.",
    "Table values marked 'recalled' are written from memory: check them against your own copy.",
)
SEVERITY_WORDS: dict[Severity, str] = {"stop": "STOP", "check": "CHECK", "note": "NOTE"}


_MOST_FINDINGS = 400
"""Findings that are printed; nobody reads thousands of them on paper."""

Progress = Callable[[float, str], None]
"""What long work reports to: how far it is (0 to 1) and what it is at; raises when the user cancels."""


def _roof_cable(cable: RoofCable | None, system: System) -> str:
    return "–" if cable is None else f"{show(cable.length_m.value, 'm', system)}, {show(cable.drop_share.value, '1')}"


def _silent(_share: float, _words: str) -> None:
    """Progress of work nobody watches."""


NAMES = ("pack.pdf", "items.csv", "settings.csv", "circuits.csv", "states.csv", "design.json", "findings.json")
"""Files of a pack."""


class InTheWayError(RuntimeError):
    """Files of another job, or of nobody knows whom, are in the folder; the message is a sentence."""


def others_in(folder: Path, job: Job) -> tuple[str, ...]:
    """Files in a folder that a pack of this job would write over and that are not from an earlier pack of it."""
    there = tuple(name for name in NAMES if (folder / name).exists() or (folder / name).is_symlink())
    try:
        was = msgspec.json.decode(read_whole(folder / "design.json", limits.FILE_BYTES, "a table"), type=_Whose)
    except (UnreadableError, msgspec.MsgspecError, RecursionError):
        return there
    return () if (was.job, was.vehicle) == (job.name, job.vehicle.description) else there


class _Whose(msgspec.Struct):
    """Whose design.json it is."""

    job: str
    vehicle: str


def write_pack(
    design: Design, findings: tuple[Finding, ...], folder: Path, *, today: date, system: System, over: bool = False, progress: Progress = _silent
) -> list[Path]:
    """Write the pack into a folder (made when missing) and return its files. Each file is whole or not there; a link is replaced, not followed.

    Raises: OSError; InTheWayError where it would write over files that are not from an earlier pack of this job, unless `over`.
    """
    tell = progress
    others = () if over else others_in(folder, design.job)
    if others:
        raise InTheWayError(f"{folder} holds {', '.join(others)} of another job. Nothing was written.")
    folder.mkdir(parents=True, exist_ok=True)
    tell(0.05, "Tables")
    tables = {
        "items.csv": items_csv(design),
        "settings.csv": settings_csv(design),
        "circuits.csv": circuits_csv(design),
        "states.csv": states_csv(design),
        "design.json": msgspec.json.format(msgspec.json.encode(design_data(design)), indent=2),
        "findings.json": msgspec.json.format(msgspec.json.encode(findings_data(findings, system)), indent=2),
    }
    for name, raw in tables.items():
        with replacing(folder / name) as file:
            file.write(raw)
    tell(0.2, "Pages")
    pdf = folder / "pack.pdf"
    _write_pdf(design, findings, pdf, today, system, tell)
    tell(1.0, "Done")
    return [folder / name for name in NAMES]


def _write_pdf(design: Design, findings: tuple[Finding, ...], path: Path, today: date, system: System, tell: Progress) -> None:
    def story(width: float) -> list[Any]:
        return _Pages(design, findings, today, system, width).story(tell)

    write_pdf(path, f"{design.job.name}: pack", f"{design.job.name} · {today.isoformat()}", design.job.practice, story)


class _Pages(Pages):
    """Builds the flow of the PDF, section by section."""

    def __init__(self, design: Design, findings: tuple[Finding, ...], today: date, system: System, width: float) -> None:
        super().__init__(width)
        self.design, self.findings, self.today, self.system = design, findings, today, system

    def story(self, tell: Progress) -> list[Any]:
        from reportlab.platypus import PageBreak

        flow: list[Any] = []
        for share, words, part in (
            (0.3, "Cover", self._cover),
            (0.4, "Vehicle", self._vehicle),
            (0.47, "Brief", self._brief),
            (0.5, "On board", self._on_board),
            (0.53, "Bank", self._bank),
            (0.54, "AC side", self._ac_side),
            (0.545, "Roof", self._roof),
            (0.55, "Summary", self._summary),
            (0.7, "Findings", self._findings),
            (0.8, "Cables", self._cables),
            (0.9, "Settings", self._settings),
        ):
            tell(share, words)
            if words in ("Brief", "AC side", "Summary", "Findings", "Settings"):
                flow.append(PageBreak())
            flow += part()
        return flow

    def _cover(self) -> list[Any]:
        job = self.design.job
        flow = [
            self.text(job.name, self.title),
            self.text(f"{job.vehicle.description} · {job.customer}"),
            self.text(f"Design as of {self.today.isoformat()}"),
            self.text("Before anything else", self.head),
        ]
        flow += [self.text(f"– {line}") for line in CAUTIONS]
        counts = [sum(one.rule.severity == severity for one in self.findings) for severity in SEVERITIES]
        flow.append(self.text("Where the design stands", self.head))
        flow.append(self.text(f"{counts[0]} at Stop, {counts[1]} at Check, {counts[2]} notes."))
        if counts[0]:
            flow.append(self.text("Do not build before every Stop is put right."))
        missing = unprintable_words(job)
        return [*flow, self.text(missing, self.small)] if missing else flow

    def _vehicle(self) -> list[Any]:
        from weighty_axle.exports.pdf_drawing import SectionDrawing

        rows = [["Axle", "Before", "Added", "Now", "Plate", "Left"]]
        for axle, result in zip(self.design.job.vehicle.axles, self.design.place.axles, strict=True):
            before = show(axle.weighed_kg, "kg", self.system)
            rows.append(
                [
                    axle.tag,
                    before,
                    *(show(v, "kg", self.system) for v in (result.added_kg.value, result.load_kg.value, axle.limit_kg, result.margin_kg.value)),
                ]
            )
        place = self.design.place
        gross = f"Gross {show(place.gross_kg.value, 'kg', self.system)}, {show(place.gross_margin_kg.value, 'kg', self.system)} left. "
        side = f"Added, right minus left: {show(place.right_minus_left_kg.value, 'kg', self.system)}."
        return [
            self.text("Vehicle and axle loads", self.head),
            SectionDrawing(self.design, self.width, self.system),
            self.table(rows, (0.16, 0.17, 0.17, 0.17, 0.17, 0.16)),
            self.text(gross + side),
        ]

    def _brief(self) -> list[Any]:
        """Energy of every kind of day and season with its losses, and the year's stays."""
        job, brief = self.design.job, self.design.brief
        rows = [["Kind of day", "Season", "AC loads", "DC loads", "Converters", "Idling", "Converting", "Out of the bank"]]
        for one in brief.profiles.values():
            dc = sum(wh for supply, wh in one.by_supply_wh.items() if supply in DC_VOLTS)
            ac = sum(one.by_supply_wh.values()) - dc
            energies = (ac, dc, one.converter_wh, one.idle_wh, one.converting_wh, one.bank_wh)
            rows.append([brief.days[one.kind].name, one.season_words or "any", *(show(wh, "Wh") for wh in energies)])
        flow = [self.text("What must run", self.head), self.table(rows, (0.18, 0.14, 0.11, 0.11, 0.11, 0.1, 0.11, 0.14))]
        if job.stays:
            kinds = {kind.tag: kind.name for kind in job.day_kinds}
            results = {one.tag: one for one in self.design.itinerary.stays}
            stays = [["Place", "From", "Days", "Kind of day", "Plugs in at", "Driven a day", "Energy a day"]]
            stays += [
                [
                    stay.place, date_words(stay.first_day), str(stay.days), kinds[stay.day_kind], stay.source or "nowhere", f"{stay.driven_h:g} h",
                    show(results[stay.tag].energy_per_day_wh.value, "Wh"),
                ]
                for stay in sorted(job.stays, key=lambda one: one.first_day)
            ]  # fmt: skip
            flow += [self.text("The year", self.head), self.table(stays, (0.26, 0.1, 0.08, 0.18, 0.14, 0.12, 0.12))]
        return flow

    def _on_board(self) -> list[Any]:
        """What becomes of the equipment found, and what feeds what afterwards."""
        job = self.design.job
        if not job.existing:
            return []
        advice: dict[str, str] = {}
        for finding in self.findings:
            for tag in finding.tags:
                advice.setdefault(tag, finding.rule.advice)
        rows = [["Tag", "On board already", "Volts", "Decision", "What to do, and with the loose end"]]
        rows += [[one.tag, one.name, show(one.nominal_v, "V"), DISPOSITION_WORDS[one.disposition], advice.get(one.tag, "")] for one in job.existing]
        feeds = [["Afterwards", "is fed from", "through", "mind"]]
        feeds += [[feed.consumer, feed.source, feed.through, feed.mind] for feed in self.design.equipment.feeds]
        return [
            self.text("On board already", self.head), self.table(rows, (0.08, 0.26, 0.1, 0.12, 0.44)),
            self.text("What feeds what afterwards", self.head), self.table(feeds, (0.22, 0.2, 0.28, 0.3)),
        ]  # fmt: skip

    def _bank(self) -> list[Any]:
        """How the packs are linked and share, and the data links port by port."""
        job, bank = self.design.job, self.design.bank
        shared = bank.sharing
        rows = [["String", "Share of the mean", "At full load", "Limit of one"]]
        for string in shared.strings:
            amps = show(string.share * bank.continuous_a.value, "A")
            rows.append(
                [" ".join(string.tags), f"{100 * string.of_mean:.1f} %" if string.share else "out", amps, show(job.bank.spec.discharge_a, "A")]
            )
        ports = [["Pack", "Address", "Port in", "Port out", "Cable to the next"]]
        ports += [
            [
                link.tag,
                f"{link.address}{' (master)' if link.master else ''}",
                link.port_in,
                link.port_out,
                show(link.cable_m, "m", self.system) if link.cable_m else "–",
            ]
            for link in data_chain(job.bank.packs)
        ]
        voltage = self.design.voltages
        return [
            self.text("Bank", self.head), self.text(voltage.reason),
            self.text(f"{len(job.bank.packs)} × {job.bank.spec.name}, {TAKE_OFF_WORDS[shared.take_off]}, links and leads of {conductor_words(job.bank.links.size)}."),
            self.table(rows, (0.3, 0.23, 0.23, 0.24)), self.text("Data links", self.head), self.table(ports, (0.12, 0.16, 0.28, 0.28, 0.16)),
        ]  # fmt: skip

    def _ac_side(self) -> list[Any]:
        """Places to plug in, circuits, panels, states that are wrong, selectors, and what sleep leaves alive."""
        design = self.design
        names = {load.tag: load.name for load in design.job.loads}
        circuits = [["Circuit", "Panel", "Line", "Breaker", "Wire", "RCD", "Draws", "Loads"]]
        circuits += [
            [
                circuit.name, circuit.panel, "+".join(circuit.lines), show(circuit.circuit.breaker_a, "A"), conductor_words(circuit.circuit.size),
                f"{circuit.circuit.rcd_ma:g} mA" if circuit.circuit.rcd_ma else "–", show(result.running_a.value, "A"),
                ", ".join(names[tag] for tag in circuit.loads),
            ]
            for circuit, result in zip(design.circuits, design.panels.circuits, strict=True) if circuit.stated
        ]  # fmt: skip
        boards = [["Panel", "Fed from", "Feeder", "Breaker", "Carries", "Drop"]]
        boards += [
            [
                panel.name, panel.fed_from, f"{conductor_words(panel.size)}, {show(panel.length_m, 'm', self.system)}", show(panel.breaker_a, "A"),
                show(board.feeder_a.value, "A") + (f" on {board.line}" if len(self.design.ac.lines) > 1 else ""), show(board.drop_share.value, "1"),
            ]
            for panel, board in zip(design.ac.panels, design.panels.panels, strict=True)
        ]  # fmt: skip
        asleep = design.storage
        switch = design.job.ac.storage.switch or "no switch named"
        sleep = f"Put to sleep with: {switch}. Then {show(asleep.alive_w.value, 'W')} stay; the bank lasts {show(asleep.lasts_days.value, 'days')}."
        wrong = sum(bool(state.hazards) for state in design.states.states)
        flow = [*sources_part(self, design, self.system)] if design.sources else []
        flow += [self.text("Panels", self.head), self.table(boards, (0.24, 0.16, 0.22, 0.12, 0.16, 0.1))]
        if len(circuits) > 1:
            flow += [self.text("Circuits", self.head), self.table(circuits, (0.2, 0.09, 0.08, 0.1, 0.1, 0.08, 0.1, 0.25))]
        for selector in design.job.ac.selectors:
            flow += selector_part(self, design, selector)
        return [
            *flow,
            self.text(f"{len(design.states.states)} states of the AC side were gone through; something is wrong in {wrong}."),
            self.text(sleep),
        ]

    def _roof(self) -> list[Any]:
        """Strings with their windows, protection and labels of every input, what holds the modules, arrays elsewhere."""
        design = self.design
        if not design.protection:
            return []
        strings = [["String", "Controller", "Modules in order", "Hot Vmp", "Cold Voc", "Margin"]]
        strings += [
            [
                one.tag,
                one.controller,
                ", ".join(one.modules),
                show(one.hot_vmp_v.value, "V"),
                show(one.cold_voc_v.value, "V"),
                show(one.cold_margin_v.value, "V"),
            ]
            for one in design.roof.strings
        ]
        guards = [["Input", "Two-pole DC isolator", "String fuses", "Cable, longest", "Surge arrester", "Labels"]]
        guards += [
            [
                one.controller, f"{show(one.isolator_v.value, 'V')}, {show(one.isolator_a.value, 'A')}", "none" if one.fuse_a is None else show(one.fuse_a.value, "A"),
                _roof_cable(one.cable, self.system), "yes" if one.surge else "not asked for", "; ".join(one.labels),
            ]
            for one in design.protection
        ]  # fmt: skip
        held = design.fixings
        fixing = f"Each module: {held.needed_count.value:.0f} fixings at least; one is pulled with {show(held.pull_n.value, 'N')} at road speed (lift coefficient assumed)."
        flow = [
            self.text("Roof", self.head), *([self.table(strings, (0.1, 0.12, 0.38, 0.13, 0.14, 0.13))] if design.roof.strings else []), self.table(guards, (0.09, 0.17, 0.12, 0.15, 0.13, 0.34)), self.text(fixing),
        ]  # fmt: skip
        if design.remote:
            away = [["Array elsewhere", "Into", "Plug", "Cold Voc", "Hot Vmp", "Cable loses"]]
            away += [
                [
                    array.name,
                    one.controller,
                    array.plug,
                    show(one.cold_voc_v.value, "V"),
                    show(one.hot_vmp_v.value, "V"),
                    show(one.drop_share.value, "1"),
                ]
                for array, one in zip(design.job.roof.remote, design.remote, strict=True)
            ]
            flow.append(self.table(away, (0.3, 0.12, 0.14, 0.15, 0.15, 0.14)))
        return flow + self._year_of_sun()

    def _year_of_sun(self) -> list[Any]:
        """What the roof gives at home, month by month."""
        # numpy only when something is printed.
        from weighty_axle.design.sun_yield import home, sun_yield

        if not self.design.roof.rated_w.value:
            return []
        year = sun_yield(self.design, home(self.design))
        rows = [["A day gives, kWh", *(one.month for one in year.months)]]
        rows.append(["mean", *(digits(one.day_wh.value / 1000, 1) for one in year.months)])
        rows.append(["clear", *(digits(one.clear_day_wh / 1000, 1) for one in year.months)])
        left = self.design.job.roof.losses.shade
        shade = f"shade takes {show(1 - left, '1')}" if left < 1 else "shade is not counted"
        told = f"Into the bank at {year.place.name}, {show(year.year_wh.value, 'Wh')} a year; {shade}; sky: {self.design.job.roof.sky.source}. A computed mean: real years differ."
        return [self.table(rows, (0.16, *[0.07] * 12)), self.text(told)]

    def _summary(self) -> list[Any]:
        d = self.design
        figures = [
            d.brief.energy_per_day_wh, d.bank.nominal_energy_wh, d.bank.usable_energy_wh, d.bank.capacity_ah, d.bank.equivalent_12v_ah, d.bank.days,
            d.bank.max_v, d.bank.continuous_a, d.bank.discharge_limit_a, d.bank.charge_limit_a, d.bank.prospective_a,
            *(figure for leg in d.inverters.legs for figure in (leg.worst_va, leg.continuous_va, leg.start_va, leg.surge_va)),
            d.roof.rated_w, d.roof.noon_low_w, d.roof.noon_high_w, *(string.cold_voc_v for string in d.roof.strings),
            d.charging.worst_a, d.charging.into_bank_a, d.wiring.worst_drop_share,
        ]  # fmt: skip
        rows = [["Figure", "Value", "How", "Source"]]
        rows += [[one.name, show(one.value, one.unit, self.system), one.formula, one.source] for one in figures]
        return [self.text("System summary", self.head), self.table(rows, (0.27, 0.12, 0.36, 0.25))]

    def _findings(self) -> list[Any]:
        rows = [["", "Finding", "Concerns", "What would put it right"]]
        rows += [
            [
                SEVERITY_WORDS[one.rule.severity],
                one.sentence(self.system),
                ", ".join(one.tags),
                " or ".join(remedy.label for remedy in one.remedies) or one.rule.advice,
            ]
            for one in self.findings[:_MOST_FINDINGS]
        ]
        left = len(self.findings) - _MOST_FINDINGS
        more = [self.text(f"{left} more findings, none worse than the last of these, are in findings.json.")] if left > 0 else []
        return [self.text("Findings", self.head), self.table(rows, (0.1, 0.5, 0.17, 0.23)), *more]

    def _cables(self) -> list[Any]:
        rows = [["Run", "From – to", "One way", "Current", "Fuse", "Conductor", "Drop"]]
        for run in self.design.wiring.runs:
            chosen = "none fits" if run.chosen is None else conductor_words(choice_name(run.chosen)) + (" (own choice)" if run.own_choice else "")
            rows.append(
                [
                    run.tag, f"{run.start} – {run.end}", show(run.length_m.value, "m", self.system), show(run.current_a.value, "A"),
                    f"{show(run.fuse_a.value, 'A')} {run.fuse_kind.name}", chosen, show(run.drop_share.value, "1"),
                ]
            )  # fmt: skip
        return [self.text("Main DC runs", self.head), self.table(rows, (0.12, 0.15, 0.11, 0.12, 0.25, 0.16, 0.09))]

    def _settings(self) -> list[Any]:
        rows = [["Unit", "Setting", "Value", "Why", "Entered, date, initials"]]
        rows += [
            [
                point.unit_tag,
                point.name,
                show(point.value, point.computed.unit) + (" (own value)" if point.own else ""),
                point.why,
                "................................",
            ]
            for point in self.design.settings.points
        ]
        return [self.text("Settings sheet", self.head), self.table(rows, (0.13, 0.26, 0.15, 0.28, 0.18))]
