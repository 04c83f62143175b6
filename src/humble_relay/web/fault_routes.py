"""Fault finding over HTTP: what is dark, what to look at next, and what was tried."""

from datetime import UTC, datetime

from fastapi import APIRouter

from humble_relay.core.frozen import Slug
from humble_relay.core.views.fault_view import FaultsView, faults_view
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import AsOf, Store, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed
from humble_relay.web.setup_routes import day_log

router = APIRouter(prefix="/api/plans", tags=["set-up"], route_class=OffLoop)


@router.get("/{id}/faults", responses=documented(404, 422))
def get_faults(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None, first: bool = False) -> FaultsView:
    """The faults of the day, each with its next test; with `first`, what to look at first of every picture. The plan is not changed by it."""
    case = case_of(opened(store, id, pulse), pulse)
    return faults_view(case, day_log(store, id, case), as_of or datetime.now(UTC), first)
