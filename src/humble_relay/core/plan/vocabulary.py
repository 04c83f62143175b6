"""What kinds of device, connector and link do for a picture: who makes one, who mixes, what carries it."""

from humble_relay.core.plan.devices import Device, Kind, Port
from humble_relay.core.plan.links import Link

VIDEO = frozenset({"hdmi", "sdi", "usb", "vga", "fibre", "radio", "network"})
"""The connectors that carry a picture."""
SOURCES: tuple[Kind, ...] = ("camera", "phone")
MIXERS: tuple[Kind, ...] = ("switcher", "computer")
"""Boxes that make a new picture from all that arrives. Any other passes on the first that does."""
PICTURE_CABLES = ("hdmi", "hdmi-active", "hdmi-optical", "coax", "vga", "usb2", "usb3", "fibre")


def is_source(device: Device) -> bool:
    """Whether the device makes a picture of its own: a camera, a phone, a laptop with slides."""
    if device.kind in SOURCES:
        return True
    takes = device.decoding is not None or any(
        p.way == "in" and not VIDEO.isdisjoint(p.types) for p in device.ports
    )
    return not takes and bool(device.produces or any(p.produces for p in device.ports))


def is_public(device: Device) -> bool:
    """Whether it is a platform that viewers look at, and no service that only passes pictures on."""
    return device.kind == "platform" and device.encoding is None


def is_lan_socket(port: Port) -> bool:
    """Whether a network cable goes into it: copper, or optical (a fibre port of one direction is a converter's)."""
    return "ethernet" in port.types or ("fibre" in port.types and port.way == "both")


def ends_of(link: Link) -> tuple[str, str]:
    """The devices a link runs between."""
    if link.kind == "stream":
        return link.from_device, link.to_device
    return link.from_port.split("/")[0], link.to_port.split("/")[0]
