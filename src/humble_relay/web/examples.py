"""Reference shows to open as plans of one's own."""

from fastapi import APIRouter, HTTPException, Response

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.examples import example_plan, examples
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import RequestId, Store, added
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed
from humble_relay.web.standings import Standing

router = APIRouter(prefix="/api/examples", tags=["examples"], route_class=OffLoop)


class ListedExample(Frozen):
    """A reference show as it is listed."""

    id: Slug
    title: str
    shows: str
    waits_for: str
    twin: str


@router.get("")
def list_examples() -> list[ListedExample]:
    """Every reference show, with what it shows, what it waits for, and what is wrong with its twin."""
    return [
        ListedExample(id=e.id, title=e.title, shows=e.shows, waits_for=e.waits_for, twin=e.twin.title)
        for e in examples().values()
    ]


@router.post("/{id}/open", status_code=201, responses=documented(404, 422))
def open_example(
    id: Slug,
    store: Store,
    response: Response,
    pulse: Pulsed,
    broken: bool = False,
    request_id: RequestId = None,
) -> Standing:
    """A new plan that is a copy of a reference show, or of its broken twin."""
    if id not in examples():
        raise HTTPException(404, f"There is no example called {id}.")
    found = example_plan(id, broken)
    return added(store, found.plan, found.log, "opened", request_id, response, pulse)
