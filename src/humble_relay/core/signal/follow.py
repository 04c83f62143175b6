"""The picture followed from each source along its cables."""

from collections import deque

from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Cable, Device
from humble_relay.core.video import VideoFormat

VIDEO = {"hdmi", "sdi", "usb", "fibre"}


def formats(plan: PlanIndex) -> dict[str, VideoFormat]:
    """The format on every port that carries a picture, by port. A device that makes its own format
    puts that on its outputs; any other passes on what arrives. Loops are walked once."""
    found: dict[str, VideoFormat] = {}
    waiting: deque[tuple[Device, VideoFormat]] = deque()
    for device in plan.devices.values():
        if device.produces:
            waiting.append((device, device.produces))
    while waiting:
        device, fmt = waiting.popleft()
        for port in device.ports:
            ref = f"{device.id}/{port.id}"
            cable = plan.cable_at.get(ref)
            if port.way != "out" or ref in found or not VIDEO & set(port.types):
                continue
            found[ref] = fmt
            if cable and cable.from_port == ref:
                found[cable.to_port] = fmt
                next_device = plan.device_of(cable.to_port)
                if not next_device.produces:
                    waiting.append((next_device, fmt))
    return found


def carries_picture(plan: PlanIndex, cable: Cable) -> bool:
    """Whether the cable joins picture ports, not network or audio ones."""
    return cable.cable in ("hdmi", "coax", "usb2", "usb3", "fibre")


def feeds(plan: PlanIndex) -> dict[str, set[str]]:
    """For every device, the devices it hands picture to directly, by cable or stream."""
    found: dict[str, set[str]] = {id: set() for id in plan.devices}
    for cable in plan.cables:
        if carries_picture(plan, cable):
            found[plan.device_of(cable.from_port).id].add(plan.device_of(cable.to_port).id)
    for stream in plan.streams:
        found[stream.from_device].add(stream.to_device)
    return found
