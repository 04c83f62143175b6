"""The demo scenario as data: the Saltmere Lantern Regatta."""

import json
from importlib.resources import files

from humble_relay.core.catalogue.stock import Holding
from humble_relay.formats.plan_file import PlanFile, read_plan
from humble_relay.store.changes import NoSuchPlan
from humble_relay.store.plans import Plans
from humble_relay.store.revisions import Unreadable
from humble_relay.store.shelf import Shelf

DEMO_ID = "saltmere-lantern-regatta"


def demo_plan() -> PlanFile:
    """The demo's plan and survey."""
    return read_plan(files("humble_relay.demo").joinpath("saltmere.json").read_bytes())


def demo_stock() -> tuple[Holding, ...]:
    """What the demo's crew owns and has borrowed."""
    entries = json.loads(files("humble_relay.demo").joinpath("stock.json").read_text(encoding="utf-8"))
    return tuple(Holding.model_validate(e) for e in entries)


def load_demo(plans: Plans, shelf: Shelf) -> str:
    """The demo's plan id; plan and stock are added when the plan is not there yet, and otherwise left as they are."""
    try:
        return plans.get(DEMO_ID).id
    except Unreadable:
        return DEMO_ID
    except NoSuchPlan:
        found = demo_plan()
        shelf.put_holdings(demo_stock())
        return plans.create(found.plan, found.log, DEMO_ID, "loaded the demo").id
