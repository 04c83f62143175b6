"""A box of one's own, built from plain choices: sockets several at a time."""

from collections.abc import Sequence

from humble_relay.core.catalogue.words import CONNECTOR_WORDS
from humble_relay.core.frozen import free_id, free_name, slug
from humble_relay.core.plan import Connector, Device, Port
from humble_relay.core.plan.devices import PortDirection


def with_more_ports(device: Device, count: int, way: PortDirection, types: Sequence[Connector]) -> Device:
    """The box with so many more ports of one kind, named and numbered beside those it has.

    >>> box = Device(id="box", name="Box", kind="converter")
    >>> [p.name for p in with_more_ports(box, 2, "in", ("sdi", "hdmi")).ports]
    ['SDI or HDMI in', 'SDI or HDMI in 2']
    """
    words = " or ".join(CONNECTOR_WORDS[t] for t in types)
    plain = words[:1].upper() + words[1:] + ("" if way == "both" else f" {way}")
    ports = list(device.ports)
    for _ in range(count):
        name = free_name(plain, {p.name for p in ports})
        id = free_id(slug(name), {p.id for p in ports})
        ports.append(Port(id=id, name=name, way=way, types=tuple(types)))
    return device.model_copy(update={"ports": tuple(ports)})
