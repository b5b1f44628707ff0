"""Lines and changes of series against SciPy, an exhaustive search by another route, and their own promises."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from weighty_axle.physics.series.change_points import SURE, changes, drawn_in, likeliest
from weighty_axle.physics.series.lines import line_through, lines_by_group

DAYS = 365


def noise(seed: int, size: float = 0.02, alike: float = 0.0, count: int = DAYS) -> np.ndarray:
    drawn = np.random.default_rng(seed)
    made = np.zeros(count)
    for at in range(count):
        made[at] = alike * made[at - 1] + size * np.sqrt(1 - alike**2) * drawn.standard_normal()
    return made


@pytest.mark.parametrize("seed", range(4))
def test_lines_are_those_of_scipy(seed):
    drawn = np.random.default_rng(seed)
    x, group = drawn.uniform(-80, 80, 900), drawn.integers(0, 7, 900)
    y = 0.0018 * x + 0.01 * group + 0.004 * drawn.standard_normal(900)
    whole, theirs = line_through(x, y), stats.linregress(x, y)
    assert whole is not None
    assert (whole.slope, whole.offset, whole.slope_error) == pytest.approx(
        (theirs.slope, theirs.intercept, theirs.stderr), rel=1e-9
    )
    slope, error, count = lines_by_group(x, y, group, 8)
    for one in range(7):
        own = stats.linregress(x[group == one], y[group == one])
        assert (slope[one], error[one]) == pytest.approx((own.slope, own.stderr), rel=1e-6)
        assert count[one] == (group == one).sum()
    assert np.isnan(slope[7]) and count[7] == 0  # a day without rows tells nothing


def test_a_line_needs_points_that_differ():
    same = np.full(10, 3.0)
    assert line_through(same, np.arange(10.0)) is None and line_through(same[:2], same[:2]) is None
    assert np.isnan(lines_by_group(same, same, np.zeros(10, dtype=np.int64), 1)[0][0])


@pytest.mark.parametrize("kind", ["step", "growth"])
@pytest.mark.parametrize("at", [60, 200, 330])
def test_the_day_is_that_of_an_exhaustive_fit(kind, at):
    """Every day fitted by NumPy's general least squares, column by column: another route to the same best day."""
    values = (
        1
        + noise(at)
        + (0.06 * (np.arange(DAYS) >= at) if kind == "step" else 0.002 * np.maximum(0, np.arange(DAYS) - at + 1))
    )
    tame = drawn_in(values)
    left = {}
    for cut in range(7, DAYS - 6):
        later = np.arange(DAYS) >= cut
        column = later.astype(float) if kind == "step" else np.maximum(0, np.arange(DAYS) - cut + 1.0)
        design = np.stack([np.ones(DAYS), column], axis=1)
        left[cut] = float(np.linalg.lstsq(design, tame, rcond=None)[1][0])
    found = likeliest(tame)
    assert found is not None and found.kind == kind and found.probability > SURE
    assert found.at == min(left, key=left.get)
    assert found.first <= found.at <= found.last and found.first - 3 <= at <= found.last + 3


@pytest.mark.parametrize("alike", [0.0, 0.6])
def test_noise_alone_is_hardly_ever_told_as_a_change(alike):
    """Also where days resemble one another: of 150 quiet years at most one in twenty-five is told to change."""
    told = sum(bool(changes(1 + noise(seed, alike=alike))) for seed in range(150))
    assert told <= 6


def test_changes_are_found_in_their_order_whatever_their_size_and_whatever_wild_days_lie_between():
    values = np.concatenate([np.full(100, 2.0), np.full(120, 3.0), np.full(145, 2.5)]) + noise(5, 0.03)
    values[[30, 150, 151, 300]] = (9.0, -4.0, 0.0, 40.0)
    for scale in (1e-3, 1.0, 1e6):
        found = changes(values * scale)
        assert [one.at for one in found] == pytest.approx([100, 220], abs=1)
        assert [one.before / scale for one in found] == pytest.approx([2.0, 3.0], abs=0.05)
        assert [one.after / scale for one in found] == pytest.approx([3.0, 2.5], abs=0.05)
    turned = changes(-values)
    assert [one.at for one in turned] == [one.at for one in changes(values)]


@pytest.mark.parametrize("values", [np.zeros(40), np.full(40, 7.0), np.arange(13.0), np.array([]), np.full(200, 1e-30)])
def test_what_does_not_change_or_is_too_short_has_no_change(values):
    assert changes(values) == ()


def test_nine_of_ten_days_lie_within_what_is_told():
    """The days a change may be are honest: the true day lies within them at least as often as is told."""
    within = 0
    for seed in range(120):
        found = changes(1 + noise(seed) + 0.03 * (np.arange(DAYS) >= 180))
        within += bool(found) and any(one.first <= 180 <= one.last for one in found)
    assert within >= 0.85 * 120
