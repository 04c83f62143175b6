"""What the Brief draws beside its fields: what has to be asked of others in time, and where things are."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.places.site_plans import Between, Ground, grounds, ways_between
from humble_relay.core.show.go_live_order import Task, order
from humble_relay.core.show.new_aims import AimWay, PossibleEnd, aim_ways, possible_ends
from humble_relay.core.show.show_format import OtherFormats, other_formats


class BriefView(Frozen):
    """The tasks ahead of the day, in the order of time; each site as it lies; the ways between two places; where a
    picture may be asked for; from where to where the finder is asked for each aim."""

    ahead: tuple[Task, ...]
    grounds: tuple[Ground, ...]
    ways: tuple[Between, ...]
    ends: tuple[PossibleEnd, ...]
    aim_ways: tuple[AimWay, ...]
    other_formats: OtherFormats | None
    """Gear that makes another picture than the brief asks for."""


def brief_view(case: Case) -> BriefView:
    """What the Brief draws."""
    ahead = tuple(task for task in order(case) if task.phase == "ahead")
    return BriefView(
        ahead=ahead,
        grounds=grounds(case),
        ways=ways_between(case),
        ends=possible_ends(case),
        aim_ways=aim_ways(case),
        other_formats=other_formats(case),
    )
