"""A folder of job files as a fleet: what each vehicle is, how it stands, what is due; kept in an index in the user's
cache so that thousands are there at once.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

import msgspec
from msgspec import Struct

from weighty_axle.answers.log.timeline import happened, services_due
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files.store import load
from weighty_axle.job.models.document import Job
from weighty_axle.rules.judge import judge

Progress = Callable[[float, str], None]
Handful = tuple["Vehicle", ...]
Work = Callable[[Handful], Handful]
Each = Callable[[Work, list[Handful]], Iterator[Handful]]

ENDINGS = (".axle", ".json")
MOST_FILES = 50_000
DEEPEST = 6
"""Folders below the first that are looked into."""
_MADE = 1
"""Version of the index: another begins it anew."""
_BUSY_S = 5.0
HANDFUL = 20
"""Files that are looked into before the index is written and rows are shown."""


class Due(Struct, frozen=True, array_like=True):
    """A service: its name, the day it is due (empty: never done), what it is about."""

    name: str
    on: str
    about: tuple[str, ...] = ()


class Vehicle(Struct, frozen=True, kw_only=True):
    """One job file as the fleet shows it. `read`: whether it was looked into yet; `wrong`: why it could not be; counts
    of findings are None until it was judged.
    """

    path: str
    size: int
    time_ns: int
    read: bool = False
    wrong: str = ""
    name: str = ""
    customer: str = ""
    vehicle: str = ""
    state: str = ""
    services: tuple[Due, ...] = ()
    open_faults: tuple[str, ...] = ()
    last_reading: str = ""
    last_on: str = ""
    types: tuple[str, ...] = ()
    stops: int | None = None
    checks: int | None = None
    said: str = ""

    @property
    def next_service(self) -> Due | None:
        """The service that comes first; one that was never done before all."""
        return min(self.services, key=lambda one: one.on, default=None)

    @property
    def file(self) -> Path:
        """Its file."""
        return Path(self.path)


def index_file() -> Path:
    """The index in the user's cache (XDG cache directory)."""
    base = os.environ.get("XDG_CACHE_HOME", "")
    folder = Path(base) if base.startswith("/") else Path.home() / ".cache"
    return folder / "weighty-axle" / "fleet.sqlite"


class Fleet:
    """A folder and the index of it. A damaged index is begun anew: it holds nothing that the files do not.

    `found` lists at once what is known; `refresh` looks into what is new or changed.
    """

    def __init__(self, folder: Path, index: Path | None = None) -> None:
        self.folder = folder
        self.index = index if index is not None else index_file()

    def found(self) -> tuple[Vehicle, ...]:
        """Every job file of the folder: as the index knows it, else by its name alone. Raises OSError."""
        known = self._known()
        rows = []
        for path, size, time_ns in job_files(self.folder):
            row = known.get(path)
            if row is None or (row.size, row.time_ns) != (size, time_ns):
                row = Vehicle(path=path, size=size, time_ns=time_ns, name=Path(path).stem)
            rows.append(row)
        return tuple(rows)

    def refresh(
        self,
        progress: Progress = lambda _share, _words: None,
        found: tuple[Vehicle, ...] | None = None,
        *,
        apart: bool = False,
    ) -> Iterator[tuple[Vehicle, ...]]:
        """Look into what is new or changed, then judge what was not judged: rows as they come, in handfuls. Files that
        have vanished leave the index. `found`: what was found a moment ago, to be spared another look. `apart`: in
        processes of their own, so that a window goes on as if nothing ran. Raises OSError.
        """
        rows = {one.path: one for one in (self.found() if found is None else found)}
        self._forget(set(rows))
        unread = [one for one in rows.values() if not one.read]
        with _workers(apart) as each:
            yield from self._each(unread, partial(each, _looked_into), progress, 0.0)
            known = self._known()
            unjudged = [one for path in rows if (one := known.get(path)) and one.stops is None and not one.wrong]
            yield from self._each(unjudged, partial(each, _judged_all), progress, 0.2)

    def _each(
        self,
        waiting: list[Vehicle],
        work: Callable[[list[Handful]], Iterator[Handful]],
        progress: Progress,
        share: float,
    ) -> Iterator[tuple[Vehicle, ...]]:
        handfuls = [tuple(waiting[at : at + HANDFUL]) for at in range(0, len(waiting), HANDFUL)]
        for at, done in enumerate(work(handfuls)):
            progress(share + 0.8 * at / len(handfuls), "Judging" if share else "Reading")
            self._keep(list(done))
            yield done

    # ---- the index ----

    def _open(self) -> sqlite3.Connection:
        self.index.parent.mkdir(parents=True, exist_ok=True)
        for attempt in (0, 1):
            try:
                made = sqlite3.connect(self.index, timeout=_BUSY_S)
                if made.execute("PRAGMA user_version").fetchone()[0] != _MADE:
                    made.execute("DROP TABLE IF EXISTS jobs")
                    made.execute(f"PRAGMA user_version = {_MADE}")
                made.execute("CREATE TABLE IF NOT EXISTS jobs (path TEXT PRIMARY KEY, row BLOB NOT NULL)")
                return made
            except sqlite3.DatabaseError as error:
                if attempt or isinstance(error, sqlite3.OperationalError):
                    raise OSError(f"the index of the fleet cannot be used ({error})") from error
                self.index.unlink(missing_ok=True)
        raise AssertionError("opened or raised")

    def _known(self) -> dict[str, Vehicle]:
        decode = msgspec.msgpack.Decoder(Vehicle)
        found = {}
        with closing(self._open()) as index:
            for path, row in index.execute("SELECT path, row FROM jobs WHERE path GLOB ?", (_below(self.folder),)):
                try:
                    found[path] = decode.decode(row)
                except msgspec.DecodeError:
                    continue  # of another program, or damaged: it is read again
        return found

    def _keep(self, rows: list[Vehicle]) -> None:
        encode = msgspec.msgpack.Encoder()
        with closing(self._open()) as index, index:
            index.executemany(
                "INSERT OR REPLACE INTO jobs VALUES (?, ?)", [(one.path, encode.encode(one)) for one in rows]
            )

    def _forget(self, there: set[str]) -> None:
        with closing(self._open()) as index, index:
            known = [
                path for (path,) in index.execute("SELECT path FROM jobs WHERE path GLOB ?", (_below(self.folder),))
            ]
            index.executemany("DELETE FROM jobs WHERE path = ?", [(path,) for path in known if path not in there])


def _looked_into(rows: Handful) -> Handful:
    return tuple(look_into(one) for one in rows)


def _judged_all(rows: Handful) -> Handful:
    return tuple(judged(one) for one in rows)


@contextmanager
def _workers(apart: bool) -> Iterator[Each]:
    """What does a handful after the other: here, or in processes beside this one."""
    if not apart:
        yield lambda work, handfuls: map(work, handfuls)
        return
    import multiprocessing
    from concurrent.futures import ProcessPoolExecutor

    pool = ProcessPoolExecutor(max(1, (os.cpu_count() or 2) - 1), mp_context=multiprocessing.get_context("spawn"))
    try:
        yield pool.map
    finally:
        pool.shutdown(wait=False, cancel_futures=True)


def _below(folder: Path) -> str:
    """A pattern of every path below a folder; signs with a meaning in it stand for themselves."""
    escaped = "".join(f"[{sign}]" if sign in "*?[" else sign for sign in str(folder.resolve()))
    return f"{escaped}/*"


def job_files(folder: Path) -> Iterator[tuple[str, int, int]]:
    """Job files of a folder and those below it: path, size, time. What cannot be looked at is passed over.

    Raises OSError where the folder itself cannot be read.
    """
    waiting = [(folder.resolve(), 0)]
    count = 0
    while waiting:
        here, deep = waiting.pop()
        try:
            entries = sorted(os.scandir(here), key=lambda one: one.name)
        except OSError:
            if not deep:
                raise
            continue
        for one in entries:
            try:
                if one.is_dir(follow_symlinks=False):
                    if deep < DEEPEST and not one.name.startswith("."):
                        waiting.append((Path(one.path), deep + 1))
                elif one.name.lower().endswith(ENDINGS) and one.is_file():
                    known = one.stat()
                    yield one.path, known.st_size, known.st_mtime_ns
                    count += 1
            except OSError:
                continue
            if count >= MOST_FILES:
                return


def look_into(row: Vehicle) -> Vehicle:
    """What a job file says of itself; a file that is none, or has vanished, says why."""
    try:
        job = load(row.file)
    except JobError as error:
        return msgspec.structs.replace(row, read=True, wrong=" ".join(str(one) for one in error.problems[:2])[:300])
    return summary(job, row)


def summary(job: Job, row: Vehicle) -> Vehicle:
    """A job in a row of the fleet."""
    events = happened(job)
    readings = [one for one in events if one.kind in ("reading", "test")]
    faults = tuple(one.words for one in events if one.open)
    types = tuple(dict.fromkeys(_types(job)))
    due = services_due(job, date(2000, 1, 1))
    said = " ".join((job.name, job.customer, job.vehicle.description, *types, *faults, Path(row.path).name))
    return msgspec.structs.replace(
        row,
        read=True,
        name=job.name,
        customer=job.customer,
        vehicle=job.vehicle.description,
        state=state_of(job),
        services=tuple(
            Due(one.service.name, one.on.isoformat() if one.on is not None else "", one.service.about) for one in due
        ),
        open_faults=faults,
        last_reading=readings[0].words if readings else "",
        last_on=next((one.on for one in events if one.on), ""),
        types=types,
        said=said.casefold(),
    )


def state_of(job: Job) -> str:
    """How far a vehicle is, in a word."""
    build = job.build
    if any(one.kind == "fault" and not one.mended_on for one in job.log.entries):
        return "fault"
    if job.proving.handover.on:
        return "handed over"
    if job.proving.trials or job.proving.readings:
        return "tests"
    if build.cuts or build.torques or build.booked or any(one.status != "to_order" for one in build.parts):
        return "build"
    return "design"


def _types(job: Job) -> Iterator[str]:
    """Names of every datasheet in a job."""
    for bank in (job.bank, *(bar.bank for bar in job.bars if bar.bank is not None)):
        if bank.packs:
            yield bank.spec.name
    for stack in (job.inverters, *(group.inverters for group in job.groups)):
        if stack.units:
            yield stack.spec.name
    yield from (one.spec.name for one in job.roof.controllers)
    yield from (one.spec.name for one in job.converters)
    if job.roof.modules:
        yield job.roof.module.name
    yield from (one.module.name for one in job.roof.remote)


def judged(row: Vehicle) -> Vehicle:
    """A row with its findings counted; one that cannot be worked out says so."""
    try:
        findings = judge(derive(load(row.file)))
    except JobError as error:
        return msgspec.structs.replace(row, wrong=" ".join(str(one) for one in error.problems[:2])[:300])
    except Exception as error:  # one job that cannot be worked out must not stop all others
        return msgspec.structs.replace(
            row, wrong=f"It could not be worked out ({type(error).__name__}: {error})."[:300]
        )
    return msgspec.structs.replace(
        row,
        stops=sum(one.rule.severity == "stop" for one in findings),
        checks=sum(one.rule.severity == "check" for one in findings),
    )


def asked(rows: tuple[Vehicle, ...], text: str) -> tuple[Vehicle, ...]:
    """Rows in which every word of a question stands: names, types, faults; `state:fault`, `due:2027-06` for services
    due until then.
    """
    found = list(rows)
    for word in text.casefold().split():
        name, _, value = word.partition(":")
        if name == "state" and value:
            found = [one for one in found if one.state.startswith(value)]
        elif name == "due" and value:
            found = [
                one for one in found if (next_ := one.next_service) is not None and next_.on[: len(value)] <= value
            ]
        else:
            found = [one for one in found if word in one.said or word in one.name.casefold()]
    return tuple(found)


def fleet_data(rows: tuple[Vehicle, ...]) -> list[dict[str, Any]]:
    """The fleet as open data."""
    return [
        {
            "file": one.path,
            "name": one.name,
            "customer": one.customer,
            "vehicle": one.vehicle,
            "state": one.state,
            "next_service": None if (due := one.next_service) is None else {"name": due.name, "on": due.on or None},
            "open_faults": list(one.open_faults),
            "last_reading": one.last_reading,
            "last_entry_on": one.last_on,
            "types": list(one.types),
            "stops": one.stops,
            "checks": one.checks,
            "wrong": one.wrong,
        }
        for one in rows
    ]


def fleet_lines(rows: tuple[Vehicle, ...]) -> Iterator[str]:
    """The fleet as lines."""
    for one in rows:
        if one.wrong:
            yield f"{one.name}: {one.file.name} cannot be used: {one.wrong}"
            continue
        due = one.next_service
        parts = [one.state or "not read yet"]
        if due is not None:
            parts.append(f"{due.name} {due.on or 'never done'}")
        if one.open_faults:
            parts.append(f"{len(one.open_faults)} open faults")
        if one.stops is not None:
            parts.append(f"{one.stops} Stop, {one.checks} Check")
        yield f"{one.name}: {', '.join(parts)}"
    yield f"{len(rows)} job files"
