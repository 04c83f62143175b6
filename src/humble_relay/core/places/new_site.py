"""A site in one stroke: the place where gear will stand there and, where it has one, its line and the network on it."""

from humble_relay.core.catalogue.words import LINE_WORDS
from humble_relay.core.frozen import free_id, slug
from humble_relay.core.plan import Network, Place, Plan, Site, Uplink
from humble_relay.core.plan.edits import Edit, LeaveBy, added
from humble_relay.core.plan.networks import LineKind


def edits_of_new_site(plan: Plan, name: str, line: LineKind | None = None) -> tuple[Edit, ...]:
    """What adds a site of that name with a place in it and, by its kind, a line out with a network."""

    def fresh(wanted: str, group: str) -> str:
        return free_id(slug(wanted)[:55].strip("-"), {x.id for x in getattr(plan, group)})

    site = fresh(name, "sites")
    edits: list[Edit] = [
        added(Site(id=site, name=name)),
        added(Place(id=fresh(name, "places"), name=name, site=site)),
    ]
    if line:
        out, lan = f"{name} {LINE_WORDS[line]}"[:80], f"{name} network"[:80]
        uplink, network = fresh(out, "uplinks"), fresh(lan, "networks")
        edits += [
            added(Uplink(id=uplink, name=out, site=site, kind=line)),
            added(Network(id=network, name=lan, site=site)),
            LeaveBy(network=network, uplink=uplink),
        ]
    return tuple(edits)
