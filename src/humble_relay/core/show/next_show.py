"""The next show begun from the last one's plan: what was done and checked for that one is to be checked again."""

from humble_relay.core.plan import Link, Plan, Stream


def for_next_show(plan: Plan) -> Plan:
    """The plan with no date, no task done, no failover tried, and every key marked as one that came along from before. What was measured and
    tried stays in the survey, and is worth what its age leaves."""
    undated = {"starts_at": None, "ends_at": None, "judge_at": None, "sessions": ()}
    return plan.model_copy(
        update={
            "show": plan.show.model_copy(update=undated),
            "settings": plan.settings.model_copy(update={"done": ()}),
            "links": tuple(_carried(link) for link in plan.links),
            "routers": tuple(r.model_copy(update={"switch_s": None}) for r in plan.routers),
            "aims": tuple(a.model_copy(update={"from_at": None, "until_at": None}) for a in plan.aims),
        }
    )


def _carried(link: Link) -> Link:
    if isinstance(link, Stream) and link.key:
        return link.model_copy(update={"key_carried": True})
    return link
