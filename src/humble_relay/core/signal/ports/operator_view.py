"""Whether the operator sees what comes in, and whether what is to be recorded is."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Device, Show
from humble_relay.core.plan.vocabulary import is_source
from humble_relay.core.signal.flow.propagation import Signal, feeds, flow


def _cut(case: Case) -> Iterator[tuple[Thing, Device]]:
    for device in case.devices.values():
        if device.kind == "switcher" and len(flow(case).arriving[device.id]) > 1:
            yield Thing("device", device.id, "seen"), device


CUT: SubjectKind[Device] = SubjectKind("switcher that cuts between several sources", _cut)


@check(
    "nobody-sees", CUT, "signal", "Does the operator see what comes in: a multi-view, or a control computer?", "common practice, no source"
)  # fmt: skip
def nobody_sees(case: Case, switcher: Device) -> Verdict:
    """Whether a switcher's multi-view reaches a screen, a computer takes its picture by USB, or one on the network of its control page
    shows its rows, or the plan says who looks at its inputs. A switcher without a multi-view shows its inputs on whatever screen it feeds."""
    looked_at = any(c.kind == "inputs" and c.from_device == switcher.id for c in case.plan.comms)
    if looked_at or _screens(case, switcher) or _control_computers(case, switcher):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"Nobody sees what comes into {switcher.name}: its multi-view reaches no screen, and no computer is on the network of its control page.",
            "The operator cuts blind: a camera that is off, or out of focus, is on air before anybody knows.",
            "Bring its multi-view to a monitor at the desk, or put a control computer on its network.",
        )
    )


def _screens(case: Case, switcher: Device) -> bool:
    walls = any(p.way == "out" and "multi-view" in (p.carries, *p.may_carry) for p in switcher.ports)
    if not walls:
        return any(switcher.id in (s.origin, *s.through) for s in _on_screens(case))
    if any(s.carries == "multi-view" and s.origin == switcher.id for s in _on_screens(case)):
        return True
    return any(case.devices[id].kind == "computer" for id in feeds(case)[switcher.id])


@analysis
def _on_screens(case: Case) -> list[Signal]:
    """What arrives where an operator may look at it."""
    screens = ("monitor", "projector", "computer")
    arriving = flow(case).arriving.items()
    return [s for id, found in arriving if case.devices[id].kind in screens for s in found.values()]


def _control_computers(case: Case, switcher: Device) -> bool:
    return any(p.network in _with_computers(case) for p in switcher.ports)


@analysis
def _with_computers(case: Case) -> set[str]:
    """The networks that a computer is on."""
    computers = (d for d in case.devices.values() if d.kind == "computer")
    return {p.network for d in computers for p in d.ports if p.network}


RECORDED: SubjectKind[Show] = SubjectKind(
    "show that is to be recorded",
    lambda case: [(Thing("show", "show", "recorded"), case.plan.show)] if case.plan.show.record else [],
)


@check(
    "nothing-records", RECORDED, "gear", "Does any device record that gets a picture?", "the brief", "plan"
)  # fmt: skip
def nothing_records(case: Case, _: Show) -> Verdict:
    """Whether a recorder, or another device that is said to record, makes or gets a picture. Where nobody said of a
    device whether it does, it is doubtful."""
    having = [d for d in case.devices.values() if is_source(d) or flow(case).arriving[d.id]]
    if any(_records(d) for d in having):
        return HOLDS
    open_ = [d for d in having if d.recording is None and d.kind not in ("platform", "monitor", "projector")]

    def say() -> Words:
        may = f" Whether {open_[0].name} records, nobody said." if open_ else ""
        return Words(
            f"The brief says that the show is recorded, and nothing records it.{may}",
            "The evening is over, and there is nothing to keep.",
            "Bring program to a recorder, say of a device that it records, or take recording out of the brief.",
        )

    return doubtful(say, compared=[d.id for d in open_]) if open_ else fails(say)


def _records(device: Device) -> bool:
    return device.recording.records if device.recording else device.kind == "recorder"


CHECKS = (nobody_sees, nothing_records)
