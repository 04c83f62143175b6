"""From when until when pictures go out: the show, and what was asked for before and after it."""

from collections import defaultdict

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Aim, Show, Stream
from humble_relay.core.plan.vocabulary import ends_of


@analysis
def on_air(case: Case) -> Show:
    """The show, as long as pictures leave a site: a picture asked for before its start or after its end makes it longer."""
    leaving = {s.to_device for s in case.streams if _leaves(case, s)}
    return _covering(case, [a.id for a in case.plan.aims if leaving & _upstream(case)[a.end]])


def in_use(case: Case, device: str) -> Show:
    """The show, as long as a device is used: for every picture that was asked for and may come by it."""
    asked = [a.id for a in _apart_from_the_show(case) if device in _upstream(case)[a.end]]
    return _covering(case, asked) if asked else case.plan.show


@analysis
def _apart_from_the_show(case: Case) -> list[Aim]:
    """The pictures that were asked for from or until a time of their own."""
    return [a for a in case.plan.aims if a.from_at or a.until_at]


def _covering(case: Case, aims: list[str]) -> Show:
    show, asked = case.plan.show, [a for a in case.plan.aims if a.id in aims]
    starts = [t for t in (show.starts_at, *(a.from_at for a in asked)) if t] if show.starts_at else []
    ends = [t for t in (show.ends_at, *(a.until_at for a in asked)) if t] if show.ends_at else []
    if not starts and not ends:
        return show
    return show.model_copy(
        update={"starts_at": min(starts, default=show.starts_at), "ends_at": max(ends, default=show.ends_at)}
    )


def _leaves(case: Case, stream: Stream) -> bool:
    """Whether a stream leaves the site of its sender, or comes to its taker from elsewhere."""
    sites = [case.site_of(case.devices[d]) for d in (stream.from_device, stream.to_device)]
    return sites[0] is None or sites[0] is not sites[1]


@analysis
def _upstream(case: Case) -> dict[str, set[str]]:
    """For the end of each aim, the devices that links lead to it from, itself among them."""
    before: dict[str, set[str]] = defaultdict(set)
    for link in case.links.values():
        giver, taker = ends_of(link)
        before[taker].add(giver)
        if link.kind == "cable" and link.id in case.lan_cables:
            before[giver].add(taker)
    found = {}
    for end in {a.end for a in case.plan.aims}:
        seen, todo = {end}, [end]
        while todo:
            fresh = before[todo.pop()] - seen
            seen |= fresh
            todo += fresh
        found[end] = seen
    return found
