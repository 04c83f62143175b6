"""Who decides where no change of the plan mends a finding."""

from collections.abc import Mapping

from humble_relay.core.addressing.address_faults import network_range
from humble_relay.core.endpoints.browser_links import links_mixed_up
from humble_relay.core.endpoints.stream_limits import encoder_destinations
from humble_relay.core.endpoints.stream_names import name_taken
from humble_relay.core.endpoints.stream_urls import key_missing, stream_address
from humble_relay.core.judging.check import Check
from humble_relay.core.load.cable_load import socket_overfull
from humble_relay.core.places.spans import shorter_than_the_way
from humble_relay.core.power.feeds import nothing_feeds_it
from humble_relay.core.power.over_ethernet import no_power_over_ethernet, poe_budget
from humble_relay.core.reach.firewalls import kept_apart
from humble_relay.core.reach.intersite_streams import far_address, far_way_out
from humble_relay.core.reach.leaving_streams import no_way_out
from humble_relay.core.reach.local_streams import local_address
from humble_relay.core.show.go_live_order import lead_time_missed
from humble_relay.core.signal.cabling.runs import cable_against_the_signal, cable_too_long
from humble_relay.core.signal.ports.aim_delivery import sound_not_there
from humble_relay.core.signal.ports.coverage import aim_not_met, nothing_plugged_in
from humble_relay.core.signal.ports.streaming import canvas_not_composed
from humble_relay.core.timing.lateness import later_than_asked
from humble_relay.core.upload.upload_fit import upload_too_small

_ROUTER = "the one who runs the router: read it there"
DECIDERS: Mapping[Check, str] = {
    aim_not_met: "you: the Brief lists the ways to get it there, under What must arrive",
    nothing_plugged_in: "you: which picture it is to hand on",
    sound_not_there: "you: which desk or microphone is heard; the one who asked, whether it is needed",
    lead_time_missed: "you: if it has been done, tick it off in Brief, under Days and requests; the one who needs the time, if not",
    later_than_asked: "you: a telephone for talking back; the one who asked, how late it may come",
    encoder_destinations: "you: which destination waits, or a relay that repeats one push",
    upload_too_small: "you: which destination waits; the provider, what the line carries",
    shorter_than_the_way: "you: where it stands, or which network brings the picture",
    poe_budget: "you: which device has a feed of its own, or a switch to be got that gives more",
    no_power_over_ethernet: "you: an injector to be got, or a switch that gives power",
    network_range: _ROUTER,
    links_mixed_up: "the one who made the links: the guest has the one that invites",
    local_address: "the one who set the other end: its own screen shows the address",
    cable_against_the_signal: "you: a look at its plugs",
    no_way_out: _ROUTER,
    far_way_out: _ROUTER,
    stream_address: "the platform's page for this event: its host stands there",
    key_missing: "the platform's page for this event, and whose account it is",
    name_taken: "whose event it is: a second event has a key of its own",
    nothing_feeds_it: "the venue, and a licensed electrician",
    far_address: "the one who runs the router of the other site",
    kept_apart: "the one who runs the router of the network",
    socket_overfull: "you: which picture may be smaller, or which camera goes without",
    canvas_not_composed: "you: which encoder composes the vertical canvas",
    cable_too_long: "you: a place nearer by, or gear to be got",
}
ELSE = "you: do what is written above, and look again"


def who_decides(check: Check) -> str:
    """Who can mend what this check found, in words."""
    return DECIDERS.get(check, ELSE)
