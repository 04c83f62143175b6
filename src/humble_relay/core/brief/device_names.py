"""Names: what papers and people call the boxes by."""

from collections import Counter

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Device

BOXES: SubjectKind[Device] = SubjectKind(
    "box", lambda case: ((Thing("device", d.id), d) for d in case.devices.values())
)


@analysis
def _named(case: Case) -> Counter[str]:
    """How many boxes have each name, written small."""
    return Counter(d.name.casefold() for d in case.devices.values())


@check(
    "name-twice", BOXES, "gear", "Is it the only box of its name?", "common practice, no source", "practice"
)
def name_twice(case: Case, device: Device) -> Verdict:
    """Whether no other box of the plan has its name: labels, the cable schedule and lists of sources go by names."""
    many = _named(case)[device.name.casefold()]
    if many < 2:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{many} boxes are called {device.name}.",
            "Labels, papers and lists of sources name both alike: the wrong one is unplugged, or called up.",
            "Give it a name of its own, by its place or what it shows.",
        ),
        compared=(device.name.casefold(),),
    )


CHECKS = (name_twice,)
