"""Where pictures begin and end: sources that reach nothing, screens that get nothing, overlays left on."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import ENDS, SCREENS
from humble_relay.core.plan.edits import SetPort
from humble_relay.core.signal.flow.propagation import MIXERS, feeds, flow, is_source


@rule("source-goes-nowhere", "signal")
def source_goes_nowhere(case: Case) -> Iterator[Fault]:
    """Cameras, phones and laptops whose picture reaches no screen, recorder or platform."""
    onward = case.once(feeds)
    for device in case.devices.values():
        if not is_source(device):
            continue
        seen, todo = {device.id}, [device.id]
        while todo:
            for after in onward[todo.pop()] - seen:
                seen.add(after)
                todo.append(after)
        if not any(case.devices[d].kind in ENDS for d in seen):
            last = [case.devices[d].name for d in ([d for d in seen if not onward[d]] or seen)]
            stuck = (
                f"it stops at {', '.join(sorted(last))}" if len(seen) > 1 else "nothing is plugged into it"
            )
            yield Fault(
                severity="risks",
                noun="device",
                subject=device.id,
                wrong=f"{device.name} reaches no screen, recorder or platform: {stuck}.",
                means="The camera is carried, powered and manned for nobody.",
                do="Get it to an input (type its name, to, and where), or leave it at home.",
            )


@rule("screen-gets-nothing", "signal")
def screen_gets_nothing(case: Case) -> Iterator[Fault]:
    """Screens, recorders and platforms at which no picture arrives."""
    arriving = case.once(flow).arriving
    for device in case.devices.values():
        if device.kind not in ENDS or arriving[device.id]:
            continue
        platform = device.kind == "platform"
        yield Fault(
            severity="risks",
            noun="device",
            subject=device.id,
            wrong=f"{device.name} gets no picture.",
            means="Viewers find an empty page."
            if platform
            else "The room looks at a logo, or nothing is recorded.",
            do="Get the program to it, or take it out of the plan.",
        )


@rule("overlay-left-on", "signal")
def overlay_left_on(case: Case) -> Iterator[Fault]:
    """Camera menus and framing marks burnt into a picture that is mixed, recorded, shown or sent."""
    told = set[str]()
    for id, signals in case.once(flow).arriving.items():
        device = case.devices[id]
        if device.kind not in (*MIXERS, *SCREENS, "encoder", "platform"):
            continue
        for signal in signals.values():
            if not signal.overlay or signal.overlay in told:
                continue
            told.add(signal.overlay)
            yield Fault(
                severity="risks",
                noun="device",
                subject=signal.overlay.split("/")[0],
                part=signal.overlay.split("/")[1],
                wrong=f"{case.port_name(signal.overlay)} has its menu overlay on, and goes to {device.name}.",
                means="Viewers see the battery gauge and the focus frame.",
                do="Switch the overlay off on that output: often a menu entry called info or clean output.",
                fixes=(
                    Fix(
                        title="The overlay is off",
                        needs="a look at the output",
                        edits=(SetPort(port=signal.overlay, field="overlay", value=False),),
                    ),
                ),
            )
