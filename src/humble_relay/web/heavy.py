"""Heavy work: so much of it at once, so much that waits, and an answer at once where the queue is full.

What takes long in Python (a large plan judged, a search) is done on threads, a few at a time, so that everybody else is
served between its steps. What would hold the interpreter while it lasts (a large file read, a large body checked, an
exact optimum) is done by a **helper**: a process of its own, with bounds on its memory and its time (`helper.py`).
"""

import threading
import time
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

from anyio import CapacityLimiter, create_task_group, sleep, to_process
from anyio.lowlevel import RunVar
from starlette.exceptions import HTTPException

from humble_relay.core.patience import Pulse
from humble_relay.web import helper

HELPERS_AT_ONCE, WAITING = 2, 9
"""Helpers that work at once, and pieces that wait in each queue; a thread waits with each."""
WAITS_S = 30.0
"""How long a piece waits for its turn."""
SMALL_BODY, LARGE_BODY = 8_000, 150_000
"""Bytes up to which a body is read on the loop (within 10 ms, whatever is in it), and from which on by a helper; between them
on a thread, one at a time (within 200 ms)."""
THREADS = 80
"""Threads for requests: more than wait in all the queues together."""


class BodyRoom:
    """So many bytes of bodies at once, of all who send: what does not fit waits, unread."""

    def __init__(self, most: int) -> None:
        self.left = most

    def share(self) -> "Share":
        """The share of one who sends, empty yet."""
        return Share(self)


class Share:
    """What one who sends takes of the room, on the loop."""

    def __init__(self, room: BodyRoom) -> None:
        self._room, self._taken = room, 0

    async def take(self, size: int) -> bool:
        """Takes so many bytes, all at once, when there is room; False where there is none for long."""
        until = time.monotonic() + WAITS_S
        while self._room.left < size:
            if time.monotonic() > until:
                return False
            await sleep(0.05)
        self._room.left -= size
        self._taken += size
        return True

    def leave(self) -> None:
        """Gives back what was taken."""
        self._room.left += self._taken
        self._taken = 0


class Queue:
    """A queue that is served in order, `at_once` at a time."""

    def __init__(self, at_once: int, waiting: int = WAITING, waits_s: float = WAITS_S) -> None:
        self._at_once, self._most, self._waits_s = at_once, waiting, waits_s
        self._changed, self._running, self._line = threading.Condition(), 0, deque[object]()

    @contextmanager
    def turn(self, pulse: Pulse) -> Iterator[None]:
        """A turn, once it comes. Raises HTTPException (503) where the queue is full or does not move, Stopped by the pulse."""
        self._await_turn(pulse)
        try:
            yield
        finally:
            with self._changed:
                self._running -= 1
                self._changed.notify_all()

    def _await_turn(self, pulse: Pulse) -> None:
        me, until = object(), time.monotonic() + self._waits_s
        with self._changed:
            if len(self._line) >= self._most:
                raise self._full()
            self._line.append(me)
            try:
                while self._line[0] is not me or self._running >= self._at_once:
                    self._changed.wait(0.1)
                    pulse()
                    if time.monotonic() > until:
                        raise self._full()
                self._running += 1
            finally:
                self._line.remove(me)
                self._changed.notify_all()

    def _full(self) -> HTTPException:
        others = self._running + len(self._line)
        return HTTPException(
            503,
            f"{others} long questions are being worked out before this one. Nothing was changed: ask again in a moment.",
            {"Retry-After": "5"},
        )


LARGE_PLANS, SEARCHES, BODIES, HELPERS = Queue(1), Queue(2), Queue(1), Queue(HELPERS_AT_ONCE)
"""Work on large plans, on a thread; searches in plans of the usual size and texts that were pasted; bodies of some size; and
what helpers do. None waits for another, but a large plan that a helper has to read."""


async def by_helper(job: bytes, pulse: Pulse) -> bytes:
    """What a helper makes of a pickled job (`helper.run`). The pulse is felt while it lasts: the helper is killed when it says
    so. Raises HTTPException (422) where the job needed more memory or time than a helper has."""
    found = b""

    async def ask() -> None:
        nonlocal found
        found = await to_process.run_sync(helper.run, job, cancellable=True, limiter=_limiter())
        group.cancel_scope.cancel()

    async def feel() -> None:
        while True:
            await sleep(0.1)
            pulse()

    try:
        async with create_task_group() as group:
            group.start_soon(ask)
            group.start_soon(feel)
    except BaseExceptionGroup as errors:
        raise helper.plain(errors) from None
    return found


_HELPERS: RunVar[CapacityLimiter] = RunVar("helpers")


def _limiter() -> CapacityLimiter:
    """As many helpers as work is done at once, of this event loop."""
    try:
        return _HELPERS.get()
    except LookupError:
        _HELPERS.set(found := CapacityLimiter(HELPERS_AT_ONCE))
        return found
