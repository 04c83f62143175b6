"""The demo scenario as data: the Saltmere Lantern Regatta."""

from importlib.resources import files

from humble_relay.formats.plan_file import PlanFile, read_plan
from humble_relay.store.plans import NoSuchPlan, Plans

DEMO_ID = "saltmere-lantern-regatta"


def demo_plan() -> PlanFile:
    """The demo's plan and survey."""
    return read_plan(files("humble_relay.demo").joinpath("saltmere.json").read_bytes())


def load_demo(plans: Plans) -> str:
    """The demo's plan id; the plan is added when it is not there yet, and otherwise left as it is."""
    try:
        return plans.get(DEMO_ID).id
    except NoSuchPlan:
        found = demo_plan()
        return plans.create(found.plan, found.survey, DEMO_ID, "loaded the demo").id
