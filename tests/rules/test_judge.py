from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tests.building import told, v, words
from weighty_axle.design.derive import derive
from weighty_axle.design.figures import SAME, over
from weighty_axle.rules.judge import judge


def test_what_is_wrong_with_one_item_names_it_once(library_bus):
    told = next(one for one in judge(derive(library_bus)) if "EX4" in one.tags and one.also)
    assert words(told).count("Converter-charger") == 1 and " It equalises" in words(told)


def test_opposite_remedies_become_one_finding_with_the_choice(library_bus):
    """A charger that loops, overcharges, equalises and is of another voltage: one finding; every choice leaves nothing
    of it.
    """
    (one,) = [each for each in judge(derive(library_bus)) if "EX4" in each.tags and each.rule.id != "brief.undecided"]
    assert {each.rule.id for each in one.also} == {
        "brief.charger-over-bank",
        "brief.equalises",
        "brief.charger-other-voltage",
    }
    assert [remedy.label.split()[0] for remedy in one.remedies] == ["Remove", "Replace"] and one.remedy is one.remedies[
        0
    ]
    for remedy in one.remedies:
        assert not [
            each
            for each in judge(derive(remedy.apply(library_bus)))
            if "EX4" in each.tags and each.rule.severity == "stop"
        ]


@given(st.floats(1e-3, 1e5), st.floats(-SAME / 2, SAME / 2))
def test_rounding_never_makes_a_value_pass_its_limit(limit, slip):
    assert not over(limit * (1 + slip), limit) and over(limit * 1.001, limit)


def test_a_limit_equal_to_the_banks_is_not_above_it(clinic):
    limit = derive(clinic).bank.charge_limit_a.value
    job = v(clinic, "charging.system_limit_a", limit * (1 + 5e-7))
    assert not told(job, "charging.limit-over-bank") and told(
        v(clinic, "charging.system_limit_a", limit + 1), "charging.limit-over-bank"
    )
