"""The large form of the attacks: `scripts/attack [jobs|files|kills|hands|leaves] [--count N] [--seed S]`.

Ends with 1 when anything went wrong.
"""

from __future__ import annotations

import argparse
import multiprocessing
import os
import random
import tempfile
import time
from collections import Counter
from collections.abc import Iterable
from pathlib import Path

USUAL = {"jobs": 5000, "files": 10_000, "kills": 1000, "hands": 12 * 60, "leaves": 300}
"""How many jobs, files, kills, seconds of random use, jobs shown whole."""
_PART = 100


def main() -> int:
    """Run one attack or all of them."""
    parser = argparse.ArgumentParser(prog="scripts/attack", description=__doc__)
    parser.add_argument("kind", nargs="?", choices=sorted(USUAL), help="which attack; all of them without")
    parser.add_argument("--count", type=int, help="how many jobs, files or kills; seconds of random use")
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    wrong = 0
    for kind in [options.kind] if options.kind else list(USUAL):
        count = options.count or USUAL[kind]
        began = time.monotonic()
        found = list(_ATTACKS[kind](count, options.seed))
        wrong += len(found)
        print(f"{kind}: {count}, {len(found)} wrong, {time.monotonic() - began:.0f} s", flush=True)
        for words, times in Counter(found).most_common(40):
            print(f"  {times} × {words}")
    return int(wrong > 0)


def _split(work: object, count: int, seed: int, part: int) -> Iterable[str]:
    """Parts of the work on all cores."""
    with multiprocessing.get_context("spawn").Pool(maxtasksperchild=20) as pool:
        for found in pool.imap_unordered(
            work, [(seed * 1_000_000 + at, min(part, count - at)) for at in range(0, count, part)]
        ):  # type: ignore[arg-type]
            yield from found


def _own_folders(folder: Path) -> None:
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"):
        os.environ[name] = str(folder / name.lower())


def _jobs(part: tuple[int, int]) -> list[str]:
    from tests.attacks.jobs import accepted
    from tests.attacks.whole import failures

    found = []
    with tempfile.TemporaryDirectory() as folder:
        for seed in range(part[0], part[0] + part[1]):
            # Prints take most of the time: a fifth of the jobs are printed too.
            found += [
                f"{words} (seed {seed})" for words in failures(accepted(seed), Path(folder), prints=seed % 5 == 0)
            ]
    return found


def _files(part: tuple[int, int]) -> list[str]:
    from tests.attacks import files

    found, dice = [], random.Random(part[0])
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        _own_folders(folder)
        doors = files.doors(folder)
        for at in range(part[1]):
            door = dice.choice(doors)
            found += [
                f"{words} (seed {part[0]}, file {at})" for words in files.tried(door, files.damaged(door, dice), folder)
            ]
        if part[0] % 1_000_000 == 0:
            by_name = {door.name: door for door in doors}
            found += [
                f"{what}: {words}"
                for what, (door, made) in files.BOMBS.items()
                for words in files.tried(by_name[door], made(), folder)
            ]
    return found


def _kills(part: tuple[int, int]) -> list[str]:
    from tests.attacks.kills import kill
    from weighty_axle import demos
    from weighty_axle.job.files import store

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        _own_folders(folder)
        store.save(demos.demo("eye-clinic"), folder / "job.axle")
        tally = kill(folder / "job.axle", folder / "journal", part[1], part[0])
    print(f"  {tally}", flush=True)
    return [
        f"{getattr(tally, name)} {name} (seed {part[0]})"
        for name in ("torn", "lost", "stale", "strays")
        if getattr(tally, name)
    ]


def _hands(seconds: int, seed: int) -> Iterable[str]:
    from tests.attacks.hands import Hands
    from tests.attacks.screen import screen

    with screen() as (window, told):
        hands = Hands(window, seed)
        hands.go(seconds / 3)
        level_mb = _memory_mb()
        hands.go(2 * seconds / 3)
        print(
            (
                f"  {len(hands.done)} actions, longest {max(hands.held)}, memory {level_mb:.0f} MB after a third, "
                f"{_memory_mb():.0f} MB at the end"
            ),
            flush=True,
        )
        yield from told
        # Its own work is what the window's thread is held by; the rest is work in the background and other programs.
        # Waiting without working (a lock, a disk) is told when it is long.
        for worked, passed, name in hands.held:
            if worked > 0.25 or passed > 2.0:
                yield f"held {worked:.2f} s by its own work, {passed:.2f} s in all: {name}"
        if _memory_mb() > 1.3 * level_mb + 50:
            yield f"memory went from {level_mb:.0f} to {_memory_mb():.0f} MB"


def _leaves(part: tuple[int, int]) -> list[str]:
    from tests.attacks.jobs import accepted
    from tests.attacks.leaves import show_everything
    from tests.attacks.screen import screen

    found = []
    with screen() as (window, told):
        for seed in range(part[0], part[0] + part[1]):
            found += [
                f"{name} of seed {seed}: took {held:.1f} s"
                for name, held in show_everything(window, accepted(seed))
                if held > 3
            ]
        found += told
    return found


def _memory_mb() -> float:
    from tests.attacks.memory import memory_mb

    return memory_mb("VmRSS")


_ATTACKS = {
    "jobs": lambda count, seed: _split(_jobs, count, seed, 20),
    "files": lambda count, seed: _split(_files, count, seed, _PART),
    "kills": lambda count, seed: _split(_kills, count, seed, _PART),
    "hands": _hands,
    "leaves": lambda count, seed: _split(_leaves, count, seed, 10),
}
