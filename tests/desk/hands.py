"""An installer at the window: answers the first questions, fills sheets, paints days."""

from __future__ import annotations

import csv
import json
from datetime import date

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from tests.desk.driving import choose, drag, entry, retype
from weighty_axle.answers.wiring.schedule import schedule
from weighty_axle.desk.kit.fields import Entry
from weighty_axle.desk.kit.sheet import _KINDS
from weighty_axle.desk.steps.brief.ribbons import ROW, TOP
from weighty_axle.exports.pack import write_pack
from weighty_axle.job.files.store import load
from weighty_axle.job.sheets import sheet_of
from weighty_axle.rules.judge import judge


class Hands:
    """An installer at the window: answers the first questions, fills sheets, paints a load's day."""

    def __init__(self, window, vehicle, *answers):
        self.window = window
        window.jobs.new_from_type(vehicle)
        for answer in answers:
            press = window.bench.beginning.presses[answer]
            if not press.isChecked():
                QTest.mouseClick(press, Qt.MouseButton.LeftButton)

    @property
    def sheet(self):
        return self.window.bench.sheet

    @property
    def whole(self):
        return self.window.session.shown.whole

    @property
    def house(self):
        return self.window.session.shown.house

    def of(self, key):
        return next(one for one in self.house.others if one.system.key == key)

    def put(self, path, **values):
        """Type into fields of the sheet of a path; titles with blanks written as underscores."""
        self.sheet.open_path(path)
        assert self.sheet.path == path
        told = {field.name: field for field in sheet_of(type(self.sheet._value(path)))}
        for name, value in values.items():
            owner, _, inner = name.partition("__")
            field = next(one for one in sheet_of(told[owner].part) if one.name == inner) if inner else told[owner]
            self._set(field, value)

    def _set(self, field, value):
        title = field.title if not field.unit or field.unit in _KINDS else f"{field.title} [{field.unit}]"
        if field.form == "yes_no":
            press = next(one for one in self.sheet.findChildren(QPushButton) if one.accessibleName() == title)
            if press.isChecked() != value:
                QTest.mouseClick(press, Qt.MouseButton.LeftButton)
        elif field.form == "choice" or field.refers:
            choose(self.sheet, title, value)
        else:
            retype(entry(self.sheet, title), str(value))
        wrong = [one.text() for one in self.sheet.findChildren(Entry) if one.objectName() == "wrong"]
        assert not wrong and not self.sheet.said.isVisible(), (title, wrong, self.sheet.said.text())

    def add(self, path, **values):
        """Add an entry to a list, fill it, and return its tag."""
        self.sheet.open_path(path.rpartition(".")[0])
        QTest.mouseClick(self.sheet.presses[f"add {path}"], Qt.MouseButton.LeftButton)
        assert self.sheet.path.startswith(f"{path}["), self.sheet.said.text()
        made = self.sheet.path
        if values:
            self.put(made, **values)
        return made.rpartition("[")[2].rstrip("]")

    def take_type(self, path, name):
        """Choose a datasheet from the list."""
        self.sheet.open_path(path)
        choose(self.sheet, "From the list", name)

    def state(self, path):
        """State a part that was not there."""
        owner, _, name = path.rpartition(".")
        self.sheet.open_path(owner)
        title = next(one.title for one in sheet_of(type(self.sheet._value(owner))) if one.name == name)
        QTest.mouseClick(self.sheet.presses[f"State: {title}"], Qt.MouseButton.LeftButton)
        assert self.sheet.path == path

    def load(self, name, supply, watts, hours, **more):
        """A load painted for some hours of the first kind of day."""
        tag = self.add("loads", name=name, supply=supply, running_w=f"{watts} W", **more)
        key = next(
            one.system.key
            for one in (self.house, *self.house.others)
            if any(one_load.tag == tag for one_load in one.job.loads)
        )
        self.window.session.show_system(key)
        self.window.go("brief")
        ribbons = self.window.bench.view("brief").day.ribbons
        ribbons.grab()
        row = next(at for at, load in enumerate(self.window.session.shown.job.loads) if load.tag == tag)
        y = TOP + ROW * (row + 0.5)
        drag(ribbons, QPointF(ribbons._x(hours[0] * 60) + 1, y), QPointF(ribbons._x(hours[1] * 60) - 1, y))
        self.window.session.show_system("")
        return tag

    def hours(self, tag):
        """Hours a load is painted on its first day, as the pixels allow."""
        spans = next(load for load in self.whole.loads if load.tag == tag).patterns["PARKED"]
        return sum(span.end_min - span.start_min for span in spans) / 60

    def rules(self):
        return {one.rule.id for one in self.window.session.shown.findings}

    def ends(self, tmp_path):
        """Saved, opened again the same, judged the same, printed."""
        path = tmp_path / "plant.axle"
        self.window.session.save(path)
        assert load(path) == self.whole
        design = self.house
        files = write_pack(design, judge(design), tmp_path / "pack", today=date(2026, 11, 28), system="metric")
        assert all(file.stat().st_size > 40 for file in files)
        with (tmp_path / "pack" / "cables.csv").open(encoding="utf-8-sig", newline="") as table:
            rows = list(csv.DictReader(table))
        assert {row["tag"] for row in rows} == {one.tag for own in (design, *design.others) for one in schedule(own)}
        landed = ("tag", "conductor", "length_m", "from", "to", "start", "end")
        assert rows and all(row[key] for row in rows for key in landed), rows
        assert all(row["fuse_a"] or row["carries"] == "PV" for row in rows)
        data = json.loads((tmp_path / "pack" / "design.json").read_bytes())
        assert set(data.get("systems", {})) == {one.system.key for one in design.others}
        self.window.session.undo(3)
        self.window.session.redo()
        assert self.window.session.undo_label
