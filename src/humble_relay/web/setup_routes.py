"""The set-up of the day over HTTP: what is to be set and seen, out of the plan and its log."""

from datetime import UTC, datetime

from fastapi import APIRouter, Response

from humble_relay.core.frozen import Slug
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import AnyEntry
from humble_relay.core.setup.items import items_named, seen_elsewhere
from humble_relay.core.show.day_jobs import all_begun
from humble_relay.core.views.run_sheet_view import RunSheetView, run_sheet_view
from humble_relay.core.views.setup_view import SetupCount, SetupView, setup_count, setup_view
from humble_relay.formats.calendar_file import write_calendar
from humble_relay.store.plans import Plans
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import AsOf, Store, download, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api/plans", tags=["set-up"], route_class=OffLoop)


def day_log(store: Plans, id: str, case: Case) -> list[AnyEntry]:
    """What is known of the day: the plan's own log, and what other logs say of the very boxes that it uses."""
    earlier = seen_elsewhere(case, store.item_entries(id, items_named(case)))
    return [*earlier, *store.log(id, clear=False)]


@router.get("/{id}/setup", responses=documented(404, 422))
def get_setup(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> SetupView:
    """What is to be set and seen, and what of it was seen today, or on the day of `as_of`. Keys are masked; nothing is judged for it."""
    case = case_of(opened(store, id, pulse), pulse)
    return setup_view(case, day_log(store, id, case), as_of or datetime.now(UTC))


@router.get("/{id}/setup/count", responses=documented(404, 422))
def get_setup_count(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> SetupCount:
    """How much of the set-up was seen today. It is asked for once the hand rests: the order of the day is worked out with it, before the
    stage asks for that."""
    case = case_of(opened(store, id, pulse), pulse)
    all_begun(case)
    return setup_count(case, day_log(store, id, case), as_of or datetime.now(UTC))


@router.get("/{id}/run-sheet.ics", responses=documented(404, 422))
def get_run_sheet_calendar(id: Slug, store: Store, pulse: Pulsed) -> Response:
    """The run sheet as iCalendar."""
    case = case_of(opened(store, id, pulse), pulse)
    return download(write_calendar(case, id), "text/calendar; charset=utf-8", f"{id}.ics")


@router.get("/{id}/run-sheet", responses=documented(404, 422))
def get_run_sheet(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> RunSheetView:
    """Every task in the order of time, and how much of it is left over."""
    case = case_of(opened(store, id, pulse), pulse)
    return run_sheet_view(case, day_log(store, id, case), as_of or datetime.now(UTC))
