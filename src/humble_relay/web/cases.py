"""The last few cases that were asked about, with all that was worked out of them: a page asks for its report, its
stage's view, its map and its proofs one after the other, and each rests on the same answers. What was looked at before it
was kept is the same case once it is kept."""

from collections import deque
from contextvars import ContextVar
from datetime import UTC, datetime
from threading import Lock

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.judging.case import Case
from humble_relay.core.patience import Pulse, patient
from humble_relay.core.plan import Plan
from humble_relay.core.plan.survey import Survey
from humble_relay.store.kept import Kept

MOST = 6
MOST_THINGS = 12_000
"""Boxes and links of all the cases that are kept at hand: with all that was worked out, some 500 MB."""
_asker: ContextVar[Pulse] = ContextVar("asker", default=patient)


def _felt() -> None:
    """The pulse of the present request: a case outlives the request that it was made for."""
    _asker.get()()


class RecentCases:
    """Cases by what they are of: plan, survey, stock and moment."""

    def __init__(self) -> None:
        self._recent: deque[tuple[tuple[datetime, Plan, Survey, Stock], Case]] = deque(maxlen=MOST)
        self._lock = Lock()

    def of(self, plan: Plan, survey: Survey, stock: Stock, as_of: datetime, pulse: Pulse) -> Case:
        """The case, worked on already where it was asked about before. From here on this request's pulse is felt."""
        _asker.set(pulse)
        what = (as_of, plan, survey, stock)
        with self._lock:
            for known, case in self._recent:
                if known == what:
                    return case
            case = Case(plan, survey, as_of, stock, _felt)
            self._recent.append((what, case))
            while (
                len(self._recent) > 1
                and sum(_things(kept) for (_, kept, _, _), _ in self._recent) > MOST_THINGS
            ):
                self._recent.popleft()
            return case


def _things(plan: Plan) -> int:
    return len(plan.devices) + len(plan.links)


def this_minute() -> datetime:
    """Now, to the minute: nothing is judged more finely, and what was asked within it is answered alike."""
    return datetime.now(UTC).replace(second=0, microsecond=0)


RECENT = RecentCases()


def moment(as_of: datetime | None) -> datetime:
    """The moment to judge as of: the one asked for, or now."""
    return as_of or this_minute()


def case_of(kept: Kept, pulse: Pulse, as_of: datetime | None = None, clear: bool = False) -> Case:
    """The look-ups over a plan as it stands; sealed, unless its keys were asked for."""
    if clear:  # what holds secrets is not kept at hand
        return Case(kept.clear, kept.clear_survey, moment(as_of), kept.stock, pulse)
    return RECENT.of(kept.plan, kept.survey, kept.stock, moment(as_of), pulse)
