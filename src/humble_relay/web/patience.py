"""How long a request may take: until nobody waits for it any more, the server stops, or its time is up. And its turn, where
what it asks for is heavy."""

import time
from collections.abc import Callable
from contextlib import ExitStack
from contextvars import ContextVar
from typing import Annotated, ParamSpec, TypeVar

from fastapi import Depends, Request

from humble_relay.core.patience import Stopped
from humble_relay.web.heavy import LARGE_BODY, LARGE_PLANS, SEARCHES, Queue, helped

P = ParamSpec("P")
T = TypeVar("T")
LONGEST_S = 20.0


class Patience:
    """One request's: `pulse` is felt between the steps of long work, on whatever thread it runs."""

    stopping = False
    """Set on the class when the server stops: all work ends."""

    def __init__(self, seconds: float = LONGEST_S, unpacks: bool = False) -> None:
        self._until = time.monotonic() + seconds
        self._seconds = seconds
        self._turn = ExitStack()
        self._in: Queue | None = None
        self.gone = False
        """The asker went away."""
        self.searches = False
        """It asks for a search, which takes its turn even in a plan of the usual size."""
        self.unpacks = unpacks
        """The asker takes packed answers (gzip)."""
        _now.set(self)

    @staticmethod
    def now() -> "Patience":
        """That of the request which is being answered."""
        return _now.get()

    def __call__(self) -> None:
        """The pulse itself."""
        self.pulse()

    def pulse(self) -> None:
        """Raises Stopped when there is no point in going on."""
        if Patience.stopping:
            raise Stopped("Humble Relay is stopping. Nothing was changed: send it again when it is back.")
        if self.gone:
            raise Stopped("Nobody waits for this any more.")
        if time.monotonic() > self._until:
            raise Stopped(
                f"This took longer than {self._seconds:g} s and was stopped; nothing was changed. Ask about less at once: name the input, or take what is not needed out of the plan."
            )

    def take_turn(self, large: bool) -> None:
        """Waits for the turn that the request needs: in a large plan always, in others where it searches. Once is enough."""
        queue = LARGE_PLANS if large else SEARCHES if self.searches else None
        if queue and self._in is None:
            self._turn.enter_context(queue.turn(self.pulse))
            self._in = queue

    def give_back(self) -> None:
        """Gives its turn to the next."""
        self._turn.close()
        self._in = None


def as_large(patience: Patience, size: int, work: Callable[P, T], *given: P.args, **_: P.kwargs) -> T:
    """What the work gives: by a helper, in its turn, where what it is given is large (`size` in bytes or characters)."""
    if size < LARGE_BODY:
        return work(*given)  # type: ignore[call-arg]
    patience.take_turn(large=True)
    return helped(patience, work, *given)  # type: ignore[call-arg]


def patience_of(request: Request) -> Patience:
    """The patience of the request."""
    found: Patience = request.state.patience
    return found


Pulsed = Annotated[Patience, Depends(patience_of)]


def _search(patience: Pulsed) -> Patience:
    patience.searches = True
    return patience


Search = Annotated[Patience, Depends(_search)]
"""The patience of a request that searches."""
_now: ContextVar[Patience] = ContextVar("patience")
