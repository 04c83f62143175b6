"""By which addresses others reach this server, as far as its own sockets tell, and what to do where they do not."""

import ipaddress
import socket
from typing import NamedTuple

from fastapi import Request


class Reached(NamedTuple):
    """Addresses to call (`http://host:port`), each with what it is; and what to do where nobody can."""

    at: tuple[tuple[str, str], ...]
    how: str


_ISOLATED = (
    "A phone that does not get there is on another network, or on one that keeps its guests apart: use the show's own network, or a "
    "phone's hotspot that this computer joins too."
)


def reached_at(request: Request) -> Reached:
    """How the crew reaches the server that answered this request."""
    port, scheme = request.url.port or (443 if request.url.scheme == "https" else 80), request.url.scheme
    if request.app.state.code is None:
        own = own_addresses()
        name = own[0] if own else "ADDRESS"
        return Reached((), f"Only this computer reaches Humble Relay. Stop it, and start it so that phones reach it: humble-relay serve --host {name} --port {port}")  # fmt: skip
    names = [n for n in request.app.state.names if not _is_loopback(n)]
    at = tuple(
        (
            f"{scheme}://{f'[{n}]' if ':' in n else n}:{port}",
            "name of this server" if not _address(n) else _network(n),
        )
        for n in names
    )
    return Reached(at, _ISOLATED)


def own_addresses() -> list[str]:
    """The addresses of this machine that others may reach it by: what its sockets would call from."""
    found = dict[str, None]()
    for family, to in (
        (socket.AF_INET, "192.0.2.1"),
        (socket.AF_INET, "10.255.255.254"),
        (socket.AF_INET, "192.168.255.254"),
    ):
        with socket.socket(
            family, socket.SOCK_DGRAM
        ) as probe:  # nothing is sent: it only chooses where it would leave by
            try:
                probe.connect((to, 9))
                found[probe.getsockname()[0]] = None
            except OSError:
                continue
    return [a for a in found if not _is_loopback(a)]


def _network(address: str) -> str:
    return "address on the network that the phones are on, too" if ipaddress.ip_address(address).is_private else "public address: not for a crew"  # fmt: skip


def _address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def _is_loopback(name: str) -> bool:
    return name == "localhost" or (_address(name) and ipaddress.ip_address(name).is_loopback)
