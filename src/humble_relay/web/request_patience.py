"""How long a request may take: until nobody waits for it any more, the server stops, or its time is up. And its turn, where
what it asks for is heavy."""

import pickle
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from contextvars import ContextVar
from typing import Annotated, ParamSpec, TypeVar

from anyio import from_thread
from fastapi import Depends, Request
from pydantic import BaseModel

from humble_relay.core.patience import Stopped
from humble_relay.core.plan import Plan
from humble_relay.store.plans import LARGE_BYTES
from humble_relay.web.heavy import (
    BODIES,
    HELPERS,
    LARGE_BODY,
    LARGE_PLANS,
    SEARCHES,
    WAITS_S,
    Queue,
    by_helper,
)
from humble_relay.web.helper import given_back, read_body

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
        self._turn, self._has_turn, self._searches = ExitStack(), False, False
        self.gone = False
        """The asker went away."""
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

    def searching(self) -> "Patience":
        """The same, of a request that searches: it takes its turn even in a plan of the usual size."""
        self._searches = True
        return self

    def take_turn(self, large: bool) -> None:
        """Waits for the turn that the request needs: in a large plan always, in others where it searches. Once is enough."""
        queue = LARGE_PLANS if large else SEARCHES if self._searches else None
        if queue and not self._has_turn:
            self._turn.enter_context(self._in(queue))
            self._has_turn = True

    def give_back(self) -> None:
        """Gives its turn to the next."""
        self._turn.close()
        self._has_turn = False

    def large(self, size: int, work: Callable[P, T], *given: P.args, **_: P.kwargs) -> T:
        """What the work gives: by a helper where what it is given is large (`size` in bytes or characters), and else here."""
        return self.helped(work, *given) if size >= LARGE_BODY else work(*given)  # type: ignore[call-arg]

    def helped(self, work: Callable[P, T], *given: P.args, **_: P.kwargs) -> T:
        """What the work gives, done by a helper in its turn; to be called on a thread. What the work raises is raised."""
        with self._in(HELPERS):
            answer = from_thread.run(by_helper, pickle.dumps((work, given)), self.pulse)
        self.take_turn(len(answer) > LARGE_BYTES / 3)  # what is unpacked now takes long itself
        found: T = given_back(answer)
        return found

    def read_body(self, model: type[BaseModel], body: bytes) -> BaseModel:
        """A body as what was asked for, in its turn. Raises Misshapen."""
        if len(body) >= LARGE_BODY:
            return self.helped(read_body, model, body)
        with self._in(BODIES):
            return read_body(model, body)

    def read_plan(self, text: str) -> Plan:
        """The plan in a stored document; a large one is read by a helper."""
        return (
            self.helped(Plan.model_validate_json, text) if self._has_turn else Plan.model_validate_json(text)
        )

    @contextmanager
    def _in(self, queue: Queue) -> Iterator[None]:
        """A turn in a queue. What it waited is not what it takes."""
        begun, self._until = time.monotonic(), self._until + WAITS_S
        with queue.turn(self.pulse):
            self._until += time.monotonic() - begun - WAITS_S
            yield


def read_stored(text: str) -> Plan:
    """The plan in a stored document, read where the request that is being answered has such read."""
    patience = _now.get(None)
    if len(text) < LARGE_BYTES or patience is None:
        return Plan.model_validate_json(text)
    return patience.read_plan(text)


def patience_of(request: Request) -> Patience:
    """The patience of the request."""
    found: Patience = request.state.patience
    return found


Pulsed = Annotated[Patience, Depends(patience_of)]


def _search(patience: Pulsed) -> Patience:
    return patience.searching()


Search = Annotated[Patience, Depends(_search)]
"""The patience of a request that searches."""
_now: ContextVar[Patience] = ContextVar("patience")
