from __future__ import annotations

import pytest

from tests import jobs
from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.exports.drawings.long_section import long_section, placed_labels


@pytest.mark.parametrize("name", demos.names())
@pytest.mark.parametrize("px_per_m", [45.0, 70.0, 110.0])
def test_names_in_the_long_section_never_lie_over_each_other(name, px_per_m):
    """Every unit is named once; names six pixels a letter and ten high keep clear of each other and of boxes in front
    of their own.
    """
    section = long_section(derive(jobs.plain(name)))
    labels = placed_labels(section, lambda text: 6 * len(text) / px_per_m, 10 / px_per_m)
    named = [shape.label for shape in section.shapes if shape.role in ("unit", "bay")]
    assert sorted(label.text for label in labels) == sorted(named)
    boxes = [
        (
            one.x_m - 3 * len(one.text) / px_per_m,
            one.x_m + 3 * len(one.text) / px_per_m,
            one.z_m,
            one.z_m + 10 / px_per_m,
        )
        for one in labels
    ]
    for index, (x0, x1, z0, z1) in enumerate(boxes):
        for other, (u0, u1, w0, w1) in enumerate(boxes[:index]):
            assert x1 <= u0 + 1e-9 or u1 <= x0 + 1e-9 or z1 <= w0 + 1e-9 or w1 <= z0 + 1e-9, (
                labels[index].text,
                labels[other].text,
            )
    for label in labels:
        box = next(shape.points for shape in section.shapes if shape.label == label.text and shape.role == label.role)
        if label.leads_to is not None:
            assert box[0][0] - 1e-9 <= label.leads_to[0] <= box[2][0] + 1e-9 and label.leads_to[1] == box[2][1], (
                "its line ends at its own box"
            )
