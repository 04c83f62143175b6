"""What the Brief draws beside its fields: what has to be asked of others in time."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.show.order import Task, order


class BriefView(Frozen):
    """The tasks ahead of the day, in the order of time."""

    ahead: tuple[Task, ...]


def brief_view(case: Case) -> BriefView:
    """What the Brief draws."""
    return BriefView(ahead=tuple(task for task in case.once(order) if task.phase == "ahead"))
