"""Place: where everything sits, and what the axles say."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QComboBox

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import SaidLine
from weighty_axle.desk.steps.place.drawing import PlaceDrawing
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import of_whole, place_path, remove
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.place import Assembly
from weighty_axle.job.tags import next_tag
from weighty_axle.units import LENGTH, System

PLACE_FIELDS = (
    Field("Along, from the front", "{tag}.place.x_m", LENGTH),
    Field("Right of the centre line", "{tag}.place.y_m", LENGTH),
    Field("Underside above ground", "{tag}.place.z_m", LENGTH),
)
_RESTS = (("the floor", 2, -1), ("the ceiling", 2, 1), ("the left wall", 1, -1), ("the right wall", 1, 1))


class PlaceLeaf(Leaf):
    """The drawing, and the selected item's place as numbers."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.drawing = PlaceDrawing(session, system)
        self.bays = QComboBox()
        self.bays.setAccessibleName(tr("What is opened"))
        self.bays.activated.connect(self._on_bay)
        self.rests = QComboBox()
        self.rests.setAccessibleName(tr("Bring what is chosen to"))
        for words in (tr("Bring to ..."), *(tr(words) for words, _, _ in _RESTS)):
            self.rests.addItem(words)
        self.rests.activated.connect(self._on_rest)
        self.row_of(
            self.bays,
            ("Nearer", partial(self.drawing.nearer, 1.5)),
            ("All of it", partial(self.drawing.nearer, 0.0)),
            ("Turn", self.drawing.turn_chosen),
            self.rests,
            ("Build as one", self.build),
        )
        self.column.addWidget(self.drawing, 1)
        self.said = SaidLine()
        self.column.addWidget(self.said)
        self.fields = Fields(session, system, PLACE_FIELDS, 3, whole=True)
        self.column.addWidget(self.fields)
        self.figures = self.figure_row()
        self.listen(self.drawing)
        session.selected.connect(self._on_selected)

    def _on_bay(self) -> None:
        self.drawing.open_bay(str(self.bays.currentData() or ""))

    def _on_rest(self, at: int) -> None:
        self.rests.setCurrentIndex(0)
        if at:
            self.drawing.rest_chosen(*_RESTS[at - 1][1:])

    def build(self) -> None:
        """What is chosen becomes a board that is built on the bench and moves as one; a whole board comes apart."""
        chosen, whole = self.drawing.chosen(), self.session.shown.whole
        one = next((one for one in whole.assemblies if set(chosen) & set(one.items)), None)
        if one is not None:
            edit = of_whole(remove(f"assemblies[{one.tag}]", one.name))
        elif len(chosen) > 1:
            tag = next_tag(whole, "board built on the bench")
            edit = add_entry("assemblies", Assembly(tag=tag, name="Board", items=chosen), tr("A board"))
        else:
            self.said.setText(tr("Choose several things first: Shift and click, or a frame."))
            return
        self.said.setText(self.session.apply(edit) or "")

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self._show_fields(self.session.shown)
            self._name_build(self.session.shown)

    def _name_build(self, shown: Shown) -> None:
        built = {tag for one in shown.whole.assemblies for tag in one.items}
        apart = bool(built & set(self.drawing.chosen()))
        self.presses["Build as one"].setText(tr("Take apart") if apart else tr("Build as one"))

    def _show_fields(self, shown: Shown) -> None:
        items = [item.tag for item in shown.design.items]
        tag = next((one for one in self.session.selection if one in items), shown.job.wiring.board.tag)
        self.fields.show_shown(shown, place_path(shown.whole, tag))
        self.fields.setToolTip(tip(tr("Place of {tag}").format(tag=tag)))

    def _show_bays(self, shown: Shown) -> None:
        wanted = [("", tr("Whole vehicle")), *((bay.tag, bay.name) for bay in shown.job.vehicle.bays)]
        if [(self.bays.itemData(at), self.bays.itemText(at)) for at in range(self.bays.count())] != wanted:
            self.bays.clear()
            for tag, name in wanted:
                self.bays.addItem(name, tag)
        self.bays.setCurrentIndex(max(0, self.bays.findData(self.drawing.bay)))

    def show_shown(self, shown: Shown) -> None:
        self._show_fields(shown)
        self._show_bays(shown)
        self._name_build(shown)
        place = shown.design.place
        worst = min(place.axles, key=lambda axle: axle.margin_kg.value)
        self.figures.put((worst.load_kg, worst.margin_kg, place.gross_margin_kg, place.right_minus_left_kg))
        self.drawing.update()

    def commands(self) -> list[Command]:
        bays = self.session.shown.job.vehicle.bays
        opened = [(bay.tag, tr("Open {bay}").format(bay=bay.name)) for bay in bays]
        return [
            *(Command(words, "", partial(self._open, tag)) for tag, words in opened),
            Command(tr("Show the whole vehicle"), "Esc", partial(self._open, "")),
            Command(tr("Turn what is chosen"), "T", self.drawing.turn_chosen),
            Command(tr("Build what is chosen as one board"), "", self.build),
        ]

    def _open(self, tag: str) -> None:
        self.drawing.open_bay(tag)
        self._show_bays(self.session.shown)
