"""Place: where everything sits, and what the axles say."""

from __future__ import annotations

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.steps.place.drawing import PlaceDrawing
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import place_path
from weighty_axle.units import LENGTH, System

PLACE_FIELDS = (
    Field("Along, from the front", "{tag}.place.x_m", LENGTH),
    Field("Right of the centre line", "{tag}.place.y_m", LENGTH),
    Field("Underside above ground", "{tag}.place.z_m", LENGTH),
)


class PlaceLeaf(Leaf):
    """The drawing, and the selected item's place as numbers."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.drawing = PlaceDrawing(session, system)
        self.column.addWidget(self.drawing, 1)
        self.fields = Fields(session, system, PLACE_FIELDS, 3, whole=True)
        self.column.addWidget(self.fields)
        self.figures = self.figure_row()
        self.listen(self.drawing)
        session.selected.connect(self._on_selected)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self._show_fields(self.session.shown)

    def _show_fields(self, shown: Shown) -> None:
        items = [item.tag for item in shown.design.items]
        tag = next((one for one in self.session.selection if one in items), shown.job.wiring.board.tag)
        self.fields.show_shown(shown, place_path(shown.whole, tag))
        self.fields.setToolTip(tip(tr("Place of {tag}").format(tag=tag)))

    def show_shown(self, shown: Shown) -> None:
        self._show_fields(shown)
        place = shown.design.place
        worst = min(place.axles, key=lambda axle: axle.margin_kg.value)
        self.figures.put((worst.load_kg, worst.margin_kg, place.gross_margin_kg, place.right_minus_left_kg))
        self.drawing.update()
