from __future__ import annotations

from pathlib import Path

import pytest

import weighty_axle
from weighty_axle.steps import STEPS, order_of, shortcut, step_of

SOURCE = Path(weighty_axle.__file__).parent


def test_sixteen_steps_each_with_a_key_of_its_own():
    assert len(STEPS) == len({step.key for step in STEPS}) == len({step.title for step in STEPS}) == 16
    keys = [shortcut(at) for at in range(len(STEPS))]
    assert keys[:11] == ["1", "2", "3", "4", "5", "6", "7", "8", "9", "0", "Alt+1"]
    assert len(set(keys)) == 16
    assert step_of("roof").title == "Roof" and [order_of(step.key) for step in STEPS] == list(range(len(STEPS)))


def test_names_in_code_are_names():
    names = {step.key: step.view_class for step in STEPS}
    assert names["first_power"] == "FirstPowerView" and names["proving"] == "ProvingView"
    assert all(name.isidentifier() for name in names.values())
    groups = [step.group for step in STEPS]
    assert [group for at, group in enumerate(groups) if group not in groups[:at]] == list(dict.fromkeys(groups))
    assert all(groups[at] == groups[at - 1] or groups[at] not in groups[:at] for at in range(1, len(groups)))


@pytest.mark.parametrize("step", STEPS, ids=lambda step: step.key)
def test_the_same_folder_stands_in_rules_and_desk(step):
    assert (SOURCE / "rules" / step.key / "__init__.py").is_file()
    assert (SOURCE / "desk" / "steps" / step.key / "view.py").is_file()


def test_every_module_is_small_enough_to_read():
    long = {path.name: n for path in SOURCE.rglob("*.py") if (n := path.read_text().count("\n")) > 450}
    assert long == {}
