"""How addresses are given: the scheme by kind of box, who has none yet and would have which, and what each school means."""

from humble_relay.core.addressing.address_plan import allocated, lacking, scheme_of
from humble_relay.core.addressing.dhcp_or_static import AddressSchools, schools_of_addressing
from humble_relay.core.addressing.subnets import ipv4
from humble_relay.core.catalogue.words import KIND_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import Edit, SetPort
from humble_relay.core.reach.address_stability import CALLED_AT


class RangeLine(Frozen):
    """One range of the scheme: its kinds of box, and what the addresses of a /24 end in."""

    kinds: tuple[str, ...]
    words: str
    first: int
    last: int


class Given(Frozen):
    """A box without an address, and the one that it would have."""

    device: str
    name: str
    address: str


class ToAddress(Frozen):
    """A network with boxes that have no address written down, and what gives them one: reserved in the router, or fixed."""

    network: str
    name: str
    boxes: tuple[Given, ...]
    full: bool
    """Whether some go without, for want of free addresses."""
    reserve: tuple[Edit, ...]
    fix: tuple[Edit, ...]


class Giving(Frozen):
    """What is needed to give addresses."""

    own_scheme: bool
    scheme: tuple[RangeLine, ...]
    networks: tuple[ToAddress, ...]
    schools: AddressSchools


def giving(case: Case) -> Giving:
    """The scheme, what it would give, and the schools."""
    called = {f"{what.box.id}/{what.port.id}" for _, what in CALLED_AT.each(case)}
    forwarded = {ipv4(f.to_address) for r in case.plan.routers for f in r.forwards}
    called |= {ref for ref, p in case.ports.items() if p.address and ipv4(p.address) in forwarded}
    return Giving(
        own_scheme=case.plan.settings.address_ranges is not None,
        scheme=tuple(
            RangeLine(
                kinds=r.kinds, words=", ".join(KIND_WORDS[k] for k in r.kinds), first=r.first, last=r.last
            )
            for r in scheme_of(case)
        ),
        networks=tuple(line for id in case.networks if (line := _to_address(case, id)).boxes or line.full),
        schools=schools_of_addressing(case, frozenset(called)),
    )


def _to_address(case: Case, id: str) -> ToAddress:
    network = case.networks[id]
    given = list(allocated(case, network))

    def edits(addressing: str) -> tuple[Edit, ...]:
        return tuple(
            SetPort(port=f"{device.id}/{port.id}", field=field, value=value)
            for device, port, address in given
            for field, value in (("interface.address", str(address)), ("interface.addressing", addressing))
        )

    return ToAddress(
        network=id,
        name=network.name,
        boxes=tuple(Given(device=d.id, name=d.name, address=str(a)) for d, _, a in given),
        full=len(given) < lacking(case, network),
        reserve=edits("reserved"),
        fix=edits("fixed"),
    )
