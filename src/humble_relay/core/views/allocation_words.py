"""The best that fits, told in lines of text."""

from collections.abc import Iterator

from humble_relay.core.allocation.outcome import Allocation, Allotment
from humble_relay.core.judging.working import number
from humble_relay.core.plan import Stream


def lines_of(found: Allocation) -> Iterator[str]:
    """What an allocation says: the best, its runner-up, and what a little more of each thing would bring."""
    if found.best is None:
        yield found.nothing
        return
    yield from _told("Best", found.best)
    if found.doubt:
        yield f"  {found.doubt}"
    if found.gap_pct:
        yield f"  A better choice may be better by {found.gap_pct:g} % at most."
    if found.runner_up:
        yield from _told("Runner-up", found.runner_up)
    if found.prices:
        yield "What a little more would bring"
        yield from (f"  {price}" for price in found.prices)


def _told(title: str, option: Allotment) -> Iterator[str]:
    yield title
    for picture in option.pictures:
        by = "".join(f" by {name}" for name in (picture.by, picture.line) if name)
        now = "" if picture.then == picture.now else f" (now {picture.now})"
        yield f"  {picture.name}: {'left out' if picture.left_out else picture.then}{by}{now}"
    for edit in option.edits:
        if isinstance(item := getattr(edit, "item", None), Stream) and item.protocol in ("rtmp", "rtmps"):
            yield f"  {item.name}: its key is still to be typed"
    for room in option.rooms:
        yield f"  {room.name}: {number(room.asked_mbps)} of {number(room.may_mbps)} Mb/s"
