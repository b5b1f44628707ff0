"""Whatever arrives, from a file or a keyboard: a sound value or one clear refusal, never anything else."""

from __future__ import annotations

import json
import random
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from weighty_axle import units
from weighty_axle.design.derive import derive
from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.files import store
from weighty_axle.rules.judge import judge

ODD = [
    None,
    True,
    -1,
    0,
    1e-9,
    1e300,
    10**40,
    "",
    "x" * 3000,
    "LD1",
    [],
    {},
    [[]],
    [0, 2000, 1],
    {"a": 1},
    "\u0000",
    "🚌",
]


def _leaves(value, path=()):
    yield path
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _leaves(inner, (*path, key))
    elif isinstance(value, list):
        for index, inner in enumerate(value):
            yield from _leaves(inner, (*path, index))


def _put(document, path, change):
    *way, last = path
    for step in way:
        document = document[step]
    change(document, last)


def _replace(value):
    def change(owner, key):
        owner[key] = value

    return change


def _remove(owner, key):
    del owner[key]


@pytest.mark.parametrize("seed", range(2))
def test_a_damaged_document_is_refused_or_still_a_job_that_derives(puppet, clinic, seed):
    """300 documents with one to three places replaced or removed: JobError, or a job whose design and findings can be
    made.
    """
    dice = random.Random(seed)
    accepted = 0
    for _ in range(45):
        document = json.loads(store.encode(dice.choice([puppet, clinic])))
        for _ in range(dice.randrange(1, 4)):
            path = dice.choice([one for one in _leaves(document) if one])
            _put(document, path, dice.choice([_remove, *(_replace(value) for value in ODD)]))
        try:
            job = store.decode(json.dumps(document).encode())
        except JobError as error:
            assert error.problems and all(len(str(problem)) > 5 for problem in error.problems)
            assert not any("Traceback" in str(problem) for problem in error.problems)
            continue
        accepted += 1
        assert problems(job) == []
        for finding in judge(derive(job)):
            assert finding.sentence()
    assert accepted < 75, "damage was noticed at least sometimes"


@pytest.mark.parametrize("seed", range(2))
def test_every_press_of_a_job_of_odd_sizes_applies_and_derives(puppet, clinic, library_bus, seed):
    """Numbers made ten times larger or smaller: what is offered as a remedy makes a job that derives, or is refused in
    a sentence.
    """
    dice, tried = random.Random(seed), 0
    for _ in range(45):
        document = json.loads(store.encode(dice.choice([puppet, clinic, library_bus])))
        sizes = [path for path in _leaves(document) if path and isinstance(_at(document, path), float)]
        for path in dice.sample(sizes, 4):
            _put(document, path, _replace(_at(document, path) * dice.choice([0.0, 0.1, 0.5, 2.0, 10.0])))
        try:
            job = store.decode(json.dumps(document).encode())
        except JobError:
            continue
        for remedy in [remedy for finding in judge(derive(job)) for remedy in finding.remedies]:
            tried += 1
            try:
                derive(remedy.apply(job))
            except EditRefusedError as refused:
                assert str(refused)
    assert tried > 20


def _at(document, path):
    for step in path:
        document = document[step]
    return document


@pytest.mark.parametrize("seed", range(2))
def test_flipped_bytes_in_a_container_are_refused_or_harmless(tmp_path, puppet, seed):
    dice, path = random.Random(seed), tmp_path / "job.axle"
    store.save(puppet, path)
    whole = path.read_bytes()
    for _ in range(40):
        raw = bytearray(whole)
        for _ in range(dice.randrange(1, 6)):
            raw[dice.randrange(len(raw))] ^= 1 << dice.randrange(8)
        path.write_bytes(bytes(raw[: dice.choice([len(raw), dice.randrange(4, len(raw))])]))
        try:
            assert problems(store.load(path)) == []
        except JobError as error:
            assert error.problems


def test_a_member_that_lies_about_its_size_is_stopped(tmp_path, puppet):
    """The directory says 10 bytes, the data unpack to more: reading stops at the limit, not at memory's end."""
    path = tmp_path / "job.axle"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as container:
        container.writestr("job.json", b" " * (limits.JOB_BYTES * 4) + store.encode(puppet))
    with pytest.raises(JobError, match="more than 8 MB"):
        store.load(path)


@given(
    st.text(max_size=130),
    st.sampled_from([units.LENGTH, units.POWER, units.TEMPERATURE, units.FRACTION, units.NUMBER, units.AREA]),
)
@settings(max_examples=400)
def test_any_text_is_a_number_or_a_sentence(text, kind):
    try:
        value = units.parse(text, kind)
    except units.QuantityError as error:
        assert str(error).endswith(".")
    else:
        assert isinstance(value, float | int)


@given(
    st.recursive(
        st.floats(0.1, 1000).map(lambda x: f"{x:.6f}"),
        lambda inner: st.tuples(inner, st.sampled_from("+-*/"), inner).map(lambda t: f"({t[0]}{t[1]}{t[2]})"),
        max_leaves=8,
    )
)
def test_sums_agree_with_python(text):
    try:
        expected = eval(text)  # made above from digits and signs only
    except ZeroDivisionError:
        return
    if abs(expected) < 1e12:
        assert units.parse(text, units.NUMBER) == pytest.approx(expected, rel=1e-9, abs=1e-9)


@given(st.text(max_size=40))
def test_any_text_is_a_conductor_or_a_sentence(text):
    try:
        assert units.read_conductor(text).endswith((" AWG", " mm2"))
    except units.QuantityError as error:
        assert str(error).endswith(".")
