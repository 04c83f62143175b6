"""Whether both ends of an NDI stream look in the same group: a source is listed only for those who do."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Device, Stream

EVERYBODY = "public"
"""The group that boxes come with (common practice, no source)."""


def groups_of(device: Device) -> tuple[str, ...]:
    """The groups that a box announces and looks in; the one that all boxes come with, where nobody set another."""
    return tuple(g for g in device.groups_seen if g) or (EVERYBODY,)


def _announced(case: Case) -> Iterator[tuple[Thing, Stream]]:
    return ((Thing("link", s.id, "group"), s) for s in case.streams if s.protocol == "ndi")


ANNOUNCED: SubjectKind[Stream] = SubjectKind("stream that is found by name", _announced)


@check(
    "groups-apart", ANNOUNCED, "addresses", "Do both boxes look in the same group?", "common practice, no source", "plan",
    tried=True,
)  # fmt: skip
def groups_apart(case: Case, stream: Stream) -> Verdict:
    """Whether a source is announced in a group that its receiver looks in. Where the receiver is given its address it may be
    listed all the same: boxes differ."""
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    ours, theirs = ({g.lower() for g in groups_of(d)} for d in (sender, taker))
    if ours & theirs:
        return HOLDS

    def say() -> Words:
        there, here = (listed(groups_of(d)) for d in (sender, taker))
        return Words(
            f"{sender.name} announces {stream.name} in group {there}, and {taker.name} looks in {here}.",
            "Both are on one network and see each other's pages, and the source is in nobody's list.",
            "Set the same group in both.",
        )

    return doubtful(say) if stream.address else fails(say)


CHECKS = (groups_apart,)
