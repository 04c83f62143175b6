"""The set-up list of a plan: every step of every device that matters to it, and none that does not."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.setup.device_steps import InUse, device_steps
from humble_relay.core.setup.port_steps import port_steps
from humble_relay.core.setup.step import SetupStep
from humble_relay.core.setup.stream_steps import stream_steps


@analysis
def setup_list(case: Case) -> tuple[SetupStep, ...]:
    """Every step, device by device in the plan's order."""
    return tuple(step for step in _steps(case) if step)


@analysis
def steps_by_device(case: Case) -> dict[str, tuple[SetupStep, ...]]:
    """The steps of each device that has some."""
    found: dict[str, list[SetupStep]] = {}
    for step in setup_list(case):
        found.setdefault(step.device, []).append(step)
    return {device: tuple(steps) for device, steps in found.items()}


def _steps(case: Case) -> Iterator[SetupStep | None]:
    joined = {end for link in case.links.values() for end in ends_of(link)}
    for device in case.devices.values():
        if device.id in joined:  # what nothing is plugged into is not of this show
            use = InUse(device, case.streams_from.get(device.id, []), case.streams_to.get(device.id, []))
            yield from device_steps(case, use)
            yield from port_steps(case, device)
            yield from stream_steps(case, use)
