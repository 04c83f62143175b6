"""The addresses of a device, to be read aloud to who types them: address, mask and gateway, socket by socket."""

from collections.abc import Iterator

from humble_relay.core.addressing.subnets import own_range
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device


class SpokenAddress(Frozen):
    """What is typed into one socket of a device; empty where it is not known."""

    socket: str
    network: str
    address: str
    """Its address; empty where DHCP gives one that nobody reserved."""
    mask: str
    """Dotted, and as a prefix length: 255.255.255.0 (/24)."""
    gateway: str


def spoken_addresses(case: Case, device: Device) -> Iterator[SpokenAddress]:
    """The addresses of a device on networks of the plan, in the order of its sockets."""
    for port in device.ports:
        network = case.networks.get(port.network or "")
        if network is None:
            continue
        range_ = own_range(port, network)
        yield SpokenAddress(
            socket=port.name,
            network=network.name,
            address=port.address,
            mask=f"{range_.netmask} (/{range_.prefixlen})" if range_ else "",
            gateway=network.gateway,
        )
