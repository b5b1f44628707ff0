"""Keeping edits safe: a thread of its own writes the newest state to the journal, tries again while it cannot, and
never ends before the program.
"""

from __future__ import annotations

import threading
import time
from contextlib import suppress
from pathlib import Path
from queue import Empty, SimpleQueue

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.job.files.disk import why
from weighty_axle.job.files.journal import Header, Journal, digest_of
from weighty_axle.job.models.document import Job

_AGAIN_S = 2.0
_LONGEST_WAIT_S = 10.0
# Steps of a drag come many times a second. The first is written at once, and so is the last after this long.
_BETWEEN_S = 0.25
_GONE = "the folder they are kept in was taken away; it has been made again"


class KeptState(Struct, frozen=True):
    """A state to keep. `in_file` are the jobs its file held when it was last read or written, and may hold now."""

    job: Job
    header: Header
    in_file: tuple[Job, ...]


class Keeper:
    """Writes the newest state on a thread of its own; states that are overtaken while one is being written are skipped.

    `problem` says why edits are not being kept; empty when all is well.
    """

    def __init__(self, root: Path) -> None:
        self._root = root
        self._journal: Journal | None = None
        self._queue: SimpleQueue[KeptState | threading.Event | None] = SimpleQueue()
        self._unkept: KeptState | None = None
        self._digests: dict[int, tuple[Job, str]] = {}
        self._written_s = 0.0
        self.problem = ""
        self._thread = threading.Thread(target=self._run, name="journal", daemon=True)
        self._thread.start()

    def keep(self, state: KeptState) -> None:
        """Write a state as soon as may be."""
        self._queue.put(state)

    def flush(self) -> None:
        """Wait until everything so far is written, or has failed."""
        done = threading.Event()
        self._queue.put(done)
        done.wait(_LONGEST_WAIT_S)

    def close(self) -> None:
        """End properly; the journal goes."""
        self._queue.put(None)
        self._thread.join(_LONGEST_WAIT_S)

    def _run(self) -> None:
        """Take everything that waits, write the newest state in it, then tell those who wait for the flush."""
        while True:
            waiting = self._waiting()
            newest = next((one for one in reversed(waiting) if isinstance(one, KeptState)), self._unkept)
            if newest is not None:
                self._record(newest)
            for one in waiting:
                if isinstance(one, threading.Event):
                    one.set()
            if None in waiting:
                if self._journal is not None:
                    self._journal.close()
                return

    def _waiting(self) -> list[KeptState | threading.Event | None]:
        """What has come in; nothing after a while when a state still has to be tried again. States that follow one
        another closely are waited for, unless someone waits for the flush or the end.
        """
        try:
            waiting = [self._queue.get(timeout=_AGAIN_S if self._unkept is not None else None)]
        except Empty:
            return []
        until_s = self._written_s + _BETWEEN_S
        with suppress(Empty):
            while isinstance(waiting[-1], KeptState):
                waiting.append(self._queue.get(timeout=max(0.0, until_s - time.monotonic())))
        return waiting

    def _record(self, state: KeptState) -> None:
        self._unkept = state
        try:
            if self._journal is None:
                self._journal = Journal(self._root)
            bases = tuple(self._digest(job) for job in state.in_file)
            made_again = self._journal.record(state.job, replace(state.header, bases=bases))
            self._digests = {key: one for key, one in self._digests.items() if key in map(id, state.in_file)}
        except Exception as error:  # whatever it is, the thread goes on and the next state is tried
            self.problem = why(error)
        else:
            self._unkept = None
            self._written_s = time.monotonic()
            self.problem = _GONE if made_again else ""

    def _digest(self, job: Job) -> str:
        if id(job) not in self._digests:
            self._digests[id(job)] = (job, digest_of(job))
        return self._digests[id(job)][1]
