"""The next show begun from the last one's plan: what was done and checked for that one is to be checked again."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.phrases import counted, said_day
from humble_relay.core.plan import Link, Plan, Stream
from humble_relay.core.plan.survey import Survey


class CarriedOver(Frozen):
    """What the next show takes over from a plan, what of it is to be checked again, and what stays behind; a line each."""

    carried: tuple[str, ...]
    again: tuple[str, ...]
    left: tuple[str, ...]


def carried_over(plan: Plan, survey: Survey) -> CarriedOver:
    """What beginning from the plan brings along."""
    parts = [
        (plan.aims, "picture that must arrive", "pictures that must arrive"), (plan.devices, "device", "devices"), (plan.links, "link", "links"),
        (plan.places, "place", "places"), (plan.networks, "network", "networks"), (plan.uplinks, "uplink", "uplinks"),
    ]  # fmt: skip
    survey = survey.standing()
    measured = survey.measurements
    tried = [f for f in survey.facts if f.quantity == "works"]
    found = [f for f in survey.facts if f.quantity != "works"]
    carried = [f"{len(things)} {one if len(things) == 1 else many}" for things, one, many in parts if things]
    if found:
        carried.append(f"{counted(len(found), 'fact')} found out")
    again = []
    if measured:
        newest = max(m.at for m in measured).astimezone(plan.show.clock)
        again.append(
            f"{counted(len(measured), 'measurement')}, the newest of {said_day(newest)}: worth what their age leaves"
        )
    if keys := sum(isinstance(x, Stream) and bool(x.key) for x in plan.links):
        again.append(f"{counted(keys, 'stream key')}, marked as from an earlier show")
    if tried:
        again.append(f"{counted(len(tried), 'test')} that worked: no proof for another show")
    if timed := sum(r.switch_s is not None for r in plan.routers):
        again.append(f"{counted(timed, 'failover time')}, to be measured again")
    left = [
        *(["the date and the rehearsals"] if plan.show.starts_at or plan.show.sessions else []),
        *([f"{counted(len(survey.done), 'task')} done"] if survey.done else []),
    ]
    return CarriedOver(carried=tuple(carried), again=tuple(again), left=tuple(left))


def for_next_show(plan: Plan) -> Plan:
    """The plan with no date, no failover tried, and every key marked as one that came along from before. What was measured and
    tried stays in the survey, and is worth what its age leaves."""
    undated = {"starts_at": None, "ends_at": None, "judge_at": None, "sessions": ()}
    return plan.model_copy(
        update={
            "show": plan.show.model_copy(update=undated),
            "links": tuple(_carried(link) for link in plan.links),
            "routers": tuple(r.model_copy(update={"switch_s": None}) for r in plan.routers),
            "aims": tuple(a.model_copy(update={"from_at": None, "until_at": None}) for a in plan.aims),
        }
    )


def _carried(link: Link) -> Link:
    if isinstance(link, Stream) and link.key:
        return link.model_copy(update={"key_carried": True})
    return link
