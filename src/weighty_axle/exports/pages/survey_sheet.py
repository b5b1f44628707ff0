"""The survey sheet: blank to take out to the vehicle, or filled with what is known so far."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.design.brief.equipment import KIND_WORDS
from weighty_axle.design.brief.seasons import date_words
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import Pages, write_pdf
from weighty_axle.rules.brief.equipment import DISPOSITION_WORDS
from weighty_axle.units import System, show

CAUTIONS = (
    "Before you measure: wheels chocked, engine off, roof dry; a second person at the ladder.",
    (
        "Covers of distribution panels come off only when dead and proved dead. Arrays are live in light; bank "
        "terminals cannot be switched off."
    ),
    "Old lead-acid banks give off hydrogen: no sparks, air them first. Mind gas and fuel lines.",
)
LINE = "...................."
_WRITE_PT = 20.0


def write_survey_sheet(design: Design, path: Path, *, blank: bool, today: date, system: System) -> Path:
    """Write the sheet as PDF. Blank: headings and lines only, with room to write. Raises OSError."""

    def story(width: float) -> list[Any]:
        return _Sheet(design, blank, system, width).story()

    path.parent.mkdir(parents=True, exist_ok=True)
    foot = "Survey sheet" if blank else f"{design.job.name} · survey sheet · {today.isoformat()}"
    write_pdf(path, foot, foot, design.job.practice, story)
    return path


class _Sheet(Pages):
    """Builds the flow, part by part, in the order one walks round the vehicle."""

    def __init__(self, design: Design, blank: bool, system: System, width: float) -> None:
        super().__init__(width)
        self.design, self.job, self.blank, self.system = design, design.job, blank, system

    def story(self) -> list[Any]:
        from reportlab.platypus import PageBreak

        # Tables to be filled in by hand keep together by themselves.
        turn = [] if self.blank else [PageBreak()]
        return [
            *self._head(),
            *self._vehicle(),
            *self._axles(),
            *self._roof(),
            PageBreak(),
            *self._bays(),
            *self._zones(),
            *self._sockets(),
            *self._existing(),
            *turn,
            *self._loads(),
            *self._stays(),
            *self._photos(),
        ]

    def _part(
        self, title: str, heading: list[str], rows: list[list[str]], shares: tuple[float, ...], spare: int
    ) -> list[Any]:
        """A table: filled, or empty rows to write in; a filled one keeps some empty rows too."""
        from reportlab.platypus import KeepTogether

        empty = [[""] * len(heading)] * (spare if self.blank else 2)
        table = self.table(
            [heading, *([] if self.blank else rows), *empty], shares, write_pt=_WRITE_PT if self.blank else 0.0
        )
        flow = [self.text(title, self.head), table]
        return [KeepTogether(flow)] if self.blank else flow

    def _said(self, value: float | None, unit: str) -> str:
        return LINE if self.blank or value is None else show(value, unit, self.system)

    def _head(self) -> list[Any]:
        job = self.job
        if self.blank:
            lines = [f"Customer {LINE * 2}  Vehicle {LINE * 2}", f"Surveyed by {LINE}  on {LINE}"]
        else:
            lines = [
                f"{job.name} · {job.customer}",
                f"{job.vehicle.description}",
                f"Surveyed by {job.survey.surveyed_by or LINE} on {job.survey.surveyed_on or LINE}",
            ]
        return [
            self.text("Survey sheet", self.title),
            *(self.text(line) for line in lines),
            *(self.text(f"– {line}", self.small) for line in CAUTIONS),
        ]

    def _vehicle(self) -> list[Any]:
        vehicle = self.job.vehicle
        values = (
            ("Length", vehicle.length_m, "m"),
            ("Width", vehicle.width_m, "m"),
            ("Roof above ground", vehicle.roof_m, "m"),
            ("Floor above ground", vehicle.floor_m, "m"),
            ("Underside above ground", vehicle.skirt_m, "m"),
            ("Track", vehicle.track_m, "m"),
            ("Gross limit (plate)", vehicle.gross_limit_kg, "kg"),
            ("Record low where it lives", self.job.site.record_low_c, "degC"),
            ("Hottest bay", self.job.site.bay_high_c, "degC"),
        )
        pairs = [[name, self._said(value, unit)] for name, value, unit in values]
        rows = [["Measured", "", "Measured", "", "Measured", ""]] + [
            [*pairs[i], *pairs[i + 1], *pairs[i + 2]] for i in range(0, 9, 3)
        ]
        return [self.text("Vehicle", self.head), self.table(rows, (0.2, 0.13, 0.2, 0.14, 0.2, 0.13))]

    def _axles(self) -> list[Any]:
        rows = [
            [
                axle.tag,
                "coupling" if axle.coupling else axle.group,
                self._said(axle.x_m, "m"),
                self._said(axle.limit_kg, "kg"),
                self._said(axle.weighed_kg, "kg"),
                "",
            ]
            for axle in self.job.vehicle.axles
        ]
        heading = [
            "Axle or coupling",
            "Group",
            "From the front of the body",
            "Plate",
            "Weighbridge, as it stands",
            "Tanks, people, load that day",
        ]
        return self._part("Axles and weighbridge", heading, rows, (0.14, 0.12, 0.18, 0.14, 0.2, 0.22), 4)

    def _roof(self) -> list[Any]:
        roof = self.job.roof
        outline = (
            f"Clear roof from {self._said(roof.start_m, 'm')} to {self._said(roof.end_m, 'm')} from the front, "
            f"{self._said(roof.width_m, 'm')} wide."
        )
        rows = [
            [
                obstacle.tag,
                obstacle.name,
                *(
                    self._said(value, "m")
                    for value in (obstacle.x_m, obstacle.y_m, obstacle.length_m, obstacle.width_m, obstacle.height_m)
                ),
            ]
            for obstacle in roof.obstacles
        ]
        heading = ["Tag", "On the roof", "From the front", "From the middle, right +", "Along", "Across", "High"]
        return [
            self.text(outline),
            *self._part(
                "Roof: hatches, air conditioners, aerials", heading, rows, (0.08, 0.28, 0.14, 0.18, 0.11, 0.11, 0.1), 6
            ),
        ]

    def _bays(self) -> list[Any]:
        rows = [
            [
                bay.tag,
                bay.name,
                *(self._said(value, "m") for value in (bay.start_m, bay.end_m, bay.bottom_m, bay.top_m)),
                " × ".join(self._said(value, "m") for value in (bay.door_m, bay.door_high_m) if value is not None),
            ]
            for bay in self.job.vehicle.bays
        ]
        heading = ["Tag", "Bay", "Starts", "Ends", "Bottom", "Top", "Door opening"]
        bays = self._part("Bays", heading, rows, (0.08, 0.24, 0.11, 0.11, 0.11, 0.11, 0.24), 6)
        ways = [
            [
                way.tag,
                way.name,
                f"{way.start} – {way.end}",
                self._said(way.length_m, "m"),
                way.zone,
                f"{way.clear_mm:g} mm",
            ]
            for way in self.job.vehicle.ways
        ]
        heading = ["Tag", "Wire way", "From – to", "Length as cable lies", "Zone", "Clear"]
        return bays + self._part(
            "Wire ways: the distance cable will really travel", heading, ways, (0.08, 0.36, 0.18, 0.16, 0.12, 0.1), 6
        )

    def _zones(self) -> list[Any]:
        rows = [
            [
                zone.tag,
                f"{zone.name} ({zone.kind})",
                *(self._said(value, "m") for value in (zone.place.x_m, zone.place.y_m, zone.place.z_m)),
                " × ".join(
                    self._said(value, "m") for value in (zone.size.length_m, zone.size.width_m, zone.size.height_m)
                ),
                self._said(zone.keep_m, "m"),
            ]
            for zone in self.job.vehicle.zones
        ]
        heading = [
            "Tag",
            "Gas, fuel, heat, exhaust, water",
            "Along",
            "Across",
            "Up",
            "Long × wide × high",
            "Keep clear",
        ]
        shares = (0.09, 0.25, 0.1, 0.1, 0.1, 0.24, 0.12)
        return self._part("What the system keeps away from", heading, rows, shares, 4)

    def _sockets(self) -> list[Any]:
        rows = [
            [source.name, source.kind, show(source.volts, "V"), show(source.amps, "A"), show(source.limit_a, "A")]
            for source in self.job.inverters.sources
        ]
        heading = ["Sockets it will find, generator that stays", "Kind", "Volts", "Amps", "Limit set"]
        return self._part("Sockets", heading, rows, (0.44, 0.16, 0.13, 0.13, 0.14), 4)

    def _existing(self) -> list[Any]:
        rows = [
            [
                piece.tag,
                piece.name,
                KIND_WORDS[piece.kind],
                show(piece.nominal_v, "V"),
                piece.fed_from.replace("_", " "),
                piece.ties_to.replace("_", " "),
                DISPOSITION_WORDS[piece.disposition],
            ]
            for piece in self.job.existing
        ]
        heading = [
            "Tag",
            "On board already",
            "Kind",
            "Volts",
            "Fed from",
            "Ties to",
            "Keep, reprogram, isolate, replace, remove",
        ]
        return self._part("Equipment on board", heading, rows, (0.08, 0.27, 0.14, 0.1, 0.12, 0.13, 0.16), 10)

    def _loads(self) -> list[Any]:
        kinds = self.job.day_kinds
        rows = [
            [
                load.tag,
                load.name,
                str(load.count),
                show(load.running_w, "W"),
                f"{load.start_multiple:g} ×",
                show(load.duty, "1"),
                "yes" if load.must_run else "may wait",
                ", ".join(kind.name for kind in kinds if load.patterns.get(kind.tag)),
            ]
            for load in self.job.loads
        ]
        heading = [
            "Tag",
            "What must run",
            "How many",
            "Running, each",
            "Start",
            "Duty",
            "Must run",
            "When, and together with what",
        ]
        return self._part("Loads", heading, rows, (0.08, 0.24, 0.08, 0.11, 0.08, 0.08, 0.1, 0.23), 14)

    def _stays(self) -> list[Any]:
        kinds = {kind.tag: kind.name for kind in self.job.day_kinds}
        rows = [
            [
                stay.place,
                date_words(stay.first_day),
                str(stay.days),
                kinds[stay.day_kind],
                stay.source or "none",
                f"{stay.driven_h:g} h",
            ]
            for stay in sorted(self.job.stays, key=lambda stay: stay.first_day)
        ]
        heading = ["Where it goes", "From", "Days", "Kind of day", "Hook-up", "Driven a day"]
        return self._part("Stays through the year", heading, rows, (0.32, 0.12, 0.1, 0.2, 0.14, 0.12), 6)

    def _photos(self) -> list[Any]:
        rows = [
            [photo.tag, photo.subject, "taken" if photo.taken and not self.blank else "[   ]"]
            for photo in self.job.survey.photos
        ]
        return (
            [self.text("Photos", self.head), self.table([["", "Of what", "Taken"], *rows], (0.1, 0.75, 0.15))]
            if rows
            else []
        )
