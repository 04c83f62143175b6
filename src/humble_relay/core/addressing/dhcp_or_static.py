"""The schools of addressing side by side: what each means for the boxes that this plan has."""

from typing import get_args

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Interface

_CONSEQUENCES: tuple[tuple[str, dict[str, str]], ...] = (
    ("The box restarts", {"dhcp": "It may come back at another address: what calls it there finds nobody.",
                          "reserved": "It has the same address, as long as the router that knows it is there.",
                          "fixed": "It has the same address."}),
    ("Another router, or the venue's", {"dhcp": "It gets an address there, and nothing need be set.",
                                        "reserved": "The reservation stayed in the old router: it gets some address there.",
                                        "fixed": "On another range it reaches nobody, until it is set by hand."}),
    ("No DHCP server answers", {"dhcp": "It gives itself 169.254.x.x and reaches nobody outside its cable (RFC 3927).",
                                "reserved": "The same: a reservation is the server's.",
                                "fixed": "It works."}),
    ("Another device gets its address", {"dhcp": "The server gives each only once.",
                                        "reserved": "The server keeps it for this box alone.",
                                        "fixed": "It happens where the address lies in the pool, or two people typed it."}),
    ("Who must know", {"dhcp": "Nobody; its callers must look the address up on the day.",
                       "reserved": "The operator of the router, with the hardware address of the device.",
                       "fixed": "The crew member who sets it, and the list of addresses in use."}),
)  # fmt: skip
"""By what happens (RFC 2131, RFC 3927; common practice, no source)."""


class SchoolOfAddressing(Frozen):
    """One way of giving addresses: how many boxes of the plan are addressed so, and how many of those are called at one."""

    addressing: str
    boxes: int
    called: tuple[str, ...]
    """The boxes addressed so that a stream or a forward has the address of."""


class Happening(Frozen):
    """Something that happens, and what it means under each of the ways, in their order."""

    when: str
    means: tuple[str, ...]


class AddressSchools(Frozen):
    """The ways of giving addresses, and what each means."""

    schools: tuple[SchoolOfAddressing, ...]
    happenings: tuple[Happening, ...]


def schools_of_addressing(case: Case, called: frozenset[str]) -> AddressSchools:
    """The schools as this plan uses them; `called` are the sockets (by device and port) that something has the address of."""
    ways = get_args(Interface.model_fields["addressing"].annotation)
    on: dict[str, list[str]] = {way: [] for way in ways}
    for ref, port in case.ports.items():
        if port.network and case.device_of(ref).kind != "phone":
            on[port.addressing].append(ref)
    return AddressSchools(
        schools=tuple(
            SchoolOfAddressing(
                addressing=way,
                boxes=len(refs),
                called=tuple(dict.fromkeys(case.device_of(ref).name for ref in refs if ref in called)),
            )
            for way, refs in on.items()
        ),
        happenings=tuple(
            Happening(when=when, means=tuple(says[w] for w in ways)) for when, says in _CONSEQUENCES
        ),
    )
