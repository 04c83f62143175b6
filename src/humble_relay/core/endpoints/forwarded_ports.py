"""Port forwards that a call falls into, and the port at which its listener hears it."""

from humble_relay.core.addressing.subnets import ipv4
from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import Call, OutsideHost, destination
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Forward, Router


def forward_for(call: Call, router: Router, port: int | None) -> Forward | None:
    """The forward of a router that a call at a port falls into: IPv4 ones are translated, so only those count."""
    return next(
        (f for f in router.forwards if router.translates and f.port == port and f.transport in call.transports and ipv4(f.to_address)),
        None,
    )  # fmt: skip


def inside_port(call: Call, router: Router, port: int | None) -> int | None:
    """The port that a call at a port has past the forward of a router."""
    forward = forward_for(call, router, port)
    return (forward.to_port or forward.port) if forward else port


def listening_port(case: Case, call: Call) -> int | None:
    """The port that the listener of a call is set to: what the plan says, else where the address and the forwards that it falls
    into lead; None where nobody said."""
    if call.stream.listens_port:
        return call.stream.listens_port
    port, to = call.port, destination(case, call)
    line = to.line if isinstance(to, OutsideHost) else None
    passed: set[str] = set()
    while line and line not in passed and (router := line_routers(case).get(line)):
        passed.add(line)
        forward = forward_for(call, router, port)
        port = inside_port(call, router, port)
        behind = (
            u for u in case.uplinks.values() if forward and u.behind in router.networks and ipv4(u.address)
        )
        line = next((u.id for u in behind if forward and ipv4(u.address) == ipv4(forward.to_address)), None)
    return port
