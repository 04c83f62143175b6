"""The questions: what must be asked of each kind of hop, whether or not anything asks it yet.

For every kind of hop (each kind of cable, radio, each protocol, each kind of box a picture passes) and every concern the
table names the checks that ask about it, or says why there is no question, or what is **not asked yet**. It is data of
its own, apart from the checks, so that a proof never claims more than was asked: a test holds it to the vocabularies.
"""

from typing import get_args

from humble_relay.core.addressing.address_faults import (
    address_fault,
    address_missing,
    address_twice,
    network_elsewhere,
    network_range,
    networks_overlap,
    route_fault,
)
from humble_relay.core.addressing.leases import no_lease, pool_too_small, two_dhcp
from humble_relay.core.addressing.masks import mask_hides
from humble_relay.core.brief.device_names import name_twice
from humble_relay.core.brief.times import end_not_known, no_start
from humble_relay.core.comms.comms_links import comms_apart, comms_not_carried
from humble_relay.core.comms.who_hears import guest_unheard, hears_himself, no_cues
from humble_relay.core.egress.service_zones import zone_far
from humble_relay.core.endpoints.browser_links import links_mixed_up
from humble_relay.core.endpoints.ndi_groups import groups_apart
from humble_relay.core.endpoints.other_ends import ends_differ
from humble_relay.core.endpoints.publication import (
    approval_open,
    link_leads_nowhere,
    live_unseen,
    longer_than_taken,
    stops_by_itself,
)
from humble_relay.core.endpoints.rtsp_requests import login_missing, path_missing
from humble_relay.core.endpoints.srt_settings import srt_settings
from humble_relay.core.endpoints.stream_limits import (
    encoder_bitrate,
    encoder_codec,
    encoder_destinations,
    encoder_sends,
    platform_bitrate,
    platform_codec,
    platform_format,
    platform_keyframe,
    platform_protocol,
)
from humble_relay.core.endpoints.stream_names import name_taken, nobody_pulls, not_published
from humble_relay.core.endpoints.stream_urls import key_missing, stream_address
from humble_relay.core.endpoints.substreams import other_stream_of_it
from humble_relay.core.judging.check import Check
from humble_relay.core.judging.concerns import CONCERNS, SCOPES, Cell, HopKind, Row, Scope
from humble_relay.core.lan.network_loops import network_loop
from humble_relay.core.lan.optics import optics_differ
from humble_relay.core.lan.switch_sockets import wrong_socket
from humble_relay.core.lan.vlan_tags import vlan_twice
from humble_relay.core.lan.wiring import not_plugged_in
from humble_relay.core.load.cable_load import socket_overfull
from humble_relay.core.load.multicast import multicast_floods
from humble_relay.core.load.wifi_load import air_overfull
from humble_relay.core.places.spans import shorter_than_the_way
from humble_relay.core.plan import CableKind, Kind, Protocol
from humble_relay.core.power.feeds import nothing_feeds_it
from humble_relay.core.power.over_ethernet import no_power_over_ethernet, poe_budget
from humble_relay.core.radio.range_of_links import not_tried_in_the_air, radio_too_far
from humble_relay.core.reach.address_stability import address_may_move
from humble_relay.core.reach.browser_sides import sides_do_not_meet
from humble_relay.core.reach.cable_continuity import cut_off
from humble_relay.core.reach.exposure import open_to_the_world
from humble_relay.core.reach.firewalls import (
    clock_not_set,
    firewall_in_the_box,
    gateway_missing,
    kept_apart,
    not_admitted,
    not_let_in,
    not_let_out,
    packets_too_large,
    sign_in_page,
)
from humble_relay.core.reach.intersite_streams import far_address, far_way_out
from humble_relay.core.reach.leaving_streams import no_way_out
from humble_relay.core.reach.local_streams import local_address, networks_apart
from humble_relay.core.show.go_live_order import lead_time_missed
from humble_relay.core.show.pull_list import gear_missing, item_twice
from humble_relay.core.signal.cabling.port_speeds import (
    no_serial_format,
    port_too_slow,
    serial_rate_too_high,
    usb_bus_shared,
    usb_too_much,
)
from humble_relay.core.signal.cabling.runs import (
    cable_against_the_signal,
    cable_too_long,
    connector_mismatch,
    couplers_in_the_run,
    run_broken,
    too_many_connections,
)
from humble_relay.core.signal.flow.canvases import canvas_undecided, source_turned
from humble_relay.core.signal.flow.sound import desk_goes_nowhere, microphone_open, mono_one_side
from humble_relay.core.signal.ports.aim_delivery import (
    below_the_lowest,
    other_than_the_brief,
    sound_not_there,
)
from humble_relay.core.signal.ports.assignment import (
    group_contested,
    input_contested,
    input_undecided,
    network_input_dark,
)
from humble_relay.core.signal.ports.coverage import (
    aim_not_met,
    nothing_plugged_in,
    overlay_left_on,
    screen_gets_nothing,
    source_goes_nowhere,
)
from humble_relay.core.signal.ports.decoding import not_decoded
from humble_relay.core.signal.ports.formats import (
    format_refused,
    levels_differ,
    no_system_format,
    protected_picture,
    rate_converted,
    stream_rate,
)
from humble_relay.core.signal.ports.loops import fed_back, multi_view_published
from humble_relay.core.signal.ports.operator_view import nobody_sees, nothing_records
from humble_relay.core.signal.ports.streaming import (
    canvas_not_composed,
    families_differ,
    firmware_too_old,
    protocol_not_taken,
    too_many_decoded,
    too_many_pictures,
)
from humble_relay.core.timing.lateness import later_than_asked
from humble_relay.core.timing.lip_sync import lip_sync
from humble_relay.core.timing.together import sources_apart
from humble_relay.core.transport.srt_latency import srt_latency
from humble_relay.core.transport.tcp_loss import tcp_under_loss
from humble_relay.core.transport.unrepaired_loss import loss_not_mended
from humble_relay.core.uplinks.bond_loss import bond_held_too_short, bond_one_gone, bond_shares_fate
from humble_relay.core.uplinks.failover import spare_too_small, switch_not_tried
from humble_relay.core.uplinks.failover_reach import spare_does_not_reach
from humble_relay.core.uplinks.mobile_data import data_used_up, signal_weak
from humble_relay.core.uplinks.policy_routes import line_not_chosen
from humble_relay.core.uplinks.shared_fate import spare_shares_fate
from humble_relay.core.upload.download_fit import line_down_too_small
from humble_relay.core.upload.upload_fit import (
    bitrate_unsuited,
    headroom_used,
    no_measurement,
    others_not_known,
    pushes_share_line,
    thin_evidence,
    upload_bad_hour,
    upload_too_small,
)


def _asked(*checks: Check, unless: str = "") -> Cell:
    return Cell(checks, unless)


def _none(why: str) -> Cell:
    return Cell(unless=why)


_OF_THE_AIM_SOUND = _none("asked of the aim: whether sound arrives, by way of every cable, box and stream")
_OF_THE_AIM_DELAY = _none(
    "asked of the aim, where it is talked back to or has a longest delay: the whole way added up"
)

_PICTURE_CABLE: Row = {
    "plugs and direction": _asked(connector_mismatch, cable_against_the_signal),
    "format": _asked(port_too_slow, unless="no picture is known on it yet"),
    "reach": _asked(cable_too_long, run_broken, couplers_in_the_run),
    "way between places": _asked(shorter_than_the_way, unless="both ends are in one place"),
    "assignment": _asked(input_undecided, input_contested, group_contested, fed_back, unless="asked of the input it goes to"),
    "protection": _none("asked of the input it goes to"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("a cable takes none"),
    "address": _none("it has none"),
    "reach over networks": _none("it crosses no network"),
    "capacity": _none("nothing shares it"),
    "delay": _none("light in a cable takes a millionth of a second for 200 m"),
    "the box itself": _none("it is no box"),
}  # fmt: skip
_USB: Row = {
    **_PICTURE_CABLE,
    "format": _asked(usb_too_much),
    "power": _none("asked of the box that hangs on it"),
    "capacity": _none("asked of the box that it goes into: what shares its bus"),
}
_AUDIO: Row = {
    **_PICTURE_CABLE,
    "format": _none("no picture runs over it"),
    "assignment": _none("asked of the sound it brings"),
    "protection": _none("no picture runs over it"),
    "delay": _asked(lip_sync, unless="no camera's picture comes in beside it"),
}
_ETHERNET: Row = {
    **_PICTURE_CABLE,
    "format": _none("any picture on it is a stream"),
    "reach": _asked(cable_too_long, run_broken, too_many_connections),
    "assignment": _none("a network socket is not assigned"),
    "protection": _none("any picture on it is a stream"),
    "sound": _none("any sound on it is in a stream"),
    "power": _none("asked of the boxes at its ends"),
    "reach over networks": _asked(
        network_loop, unless="asked of the device at its end: whether it is plugged into its network"
    ),
    "capacity": _asked(socket_overfull),
}
_CABLES: dict[CableKind, Row] = {
    "hdmi": _PICTURE_CABLE,
    "hdmi-active": _PICTURE_CABLE,
    "hdmi-optical": _PICTURE_CABLE,
    "coax": {**_PICTURE_CABLE, "format": _asked(serial_rate_too_high, no_serial_format)},
    "vga": _PICTURE_CABLE,
    "fibre": {**_PICTURE_CABLE, "plugs and direction": _asked(connector_mismatch, cable_against_the_signal, families_differ, optics_differ)},
    "usb2": _USB,
    "usb3": _USB,
    "ethernet": _ETHERNET,
    "audio": _AUDIO,
}  # fmt: skip
_RADIO: Row = {
    "plugs and direction": _asked(families_differ, cable_against_the_signal),
    "format": _none("asked of the input of its transmitter"),
    "reach": _asked(radio_too_far, run_broken),
    "way between places": _asked(shorter_than_the_way, radio_too_far),
    "assignment": _asked(input_undecided, unless="asked of the input it goes to"),
    "protection": _none("asked of the input of its transmitter"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("asked of the boxes at its ends"),
    "address": _none("it has none"),
    "reach over networks": _none("it crosses no network"),
    "capacity": _asked(not_tried_in_the_air),
    "delay": _none("asked of what it is cut with, and of the aim: what its boxes promise may be exceeded"),
    "the box itself": _none("it is no box"),
}
_STREAM: Row = {
    "plugs and direction": _asked(encoder_sends, platform_protocol, protocol_not_taken),
    "format": _asked(other_than_the_brief, stream_rate, not_decoded, multi_view_published, encoder_codec, platform_format, platform_codec, platform_keyframe, canvas_undecided, canvas_not_composed),
    "reach": _asked(run_broken),
    "way between places": _none("it has no cable of its own"),
    "assignment": _asked(network_input_dark, encoder_destinations, too_many_pictures, too_many_decoded, unless="asked of the boxes at its ends"),
    "protection": _none("asked of the input of the box that encodes it"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("asked of the boxes at its ends"),
    "address": _asked(stream_address, key_missing, address_may_move, name_taken),
    "reach over networks": _asked(no_way_out, not_let_out, kept_apart, sign_in_page, clock_not_set, not_let_in, firewall_in_the_box, spare_does_not_reach, cut_off, line_not_chosen),
    "capacity": _asked(upload_too_small, upload_bad_hour, headroom_used, no_measurement, thin_evidence, others_not_known, pushes_share_line, bitrate_unsuited,
                       encoder_bitrate, platform_bitrate, bond_one_gone, bond_shares_fate, bond_held_too_short, data_used_up,
                       signal_weak, spare_too_small, switch_not_tried, spare_shares_fate),
    "delay": _OF_THE_AIM_DELAY,
    "the box itself": _none("it is no box"),
}  # fmt: skip
_BETWEEN_SERVICES: Row = {
    **_STREAM,
    "reach over networks": _none("from one service on the internet to another"),
    "capacity": _asked(bitrate_unsuited, encoder_bitrate, platform_bitrate),
}
_WITHIN: Row = {
    **_STREAM,
    "address": _asked(
        stream_address,
        local_address,
        address_may_move,
        name_taken,
        other_stream_of_it,
        groups_apart,
        unless="it is found by name on its own network",
    ),
    "reach over networks": _asked(networks_apart, kept_apart, firewall_in_the_box, stream_address, cut_off),
    "capacity": _asked(bitrate_unsuited, encoder_bitrate, air_overfull, multicast_floods),
}
_BETWEEN_SITES: Row = {
    **_STREAM,
    "address": _asked(far_address, address_may_move, name_taken, other_stream_of_it),
    "reach over networks": _asked(
        far_way_out,
        not_let_out,
        not_let_in,
        kept_apart,
        firewall_in_the_box,
        sign_in_page,
        cut_off,
        line_not_chosen,
    ),
    "capacity": _asked(*_STREAM["capacity"].checks, line_down_too_small),
}
_FROM_A_SERVICE: Row = {
    **_BETWEEN_SITES,
    "capacity": _asked(bitrate_unsuited, encoder_bitrate, line_down_too_small),
}
_WHERE: dict[Scope, Row] = {
    "to a platform": _STREAM, "between services": _BETWEEN_SERVICES, "from a service": _FROM_A_SERVICE, "within a site": _WITHIN, "between sites": _BETWEEN_SITES,
}  # fmt: skip


def _stream_row(protocol: Protocol, scope: Scope) -> Row:
    """The questions about a stream of a protocol that goes there."""
    row = dict(_WHERE[scope])
    crosses = scope in ("to a platform", "between sites", "from a service")
    if protocol == "web":
        row["address"] = _asked(links_mixed_up)
        row["format"] = _asked(*row["format"].checks, source_turned)
        row["reach over networks"] = _asked(
            no_way_out, not_let_out, sides_do_not_meet, kept_apart, sign_in_page, clock_not_set
        )
    elif protocol in ("rtmp", "rtmps", "hls") and crosses:
        row["capacity"] = _asked(*row["capacity"].checks, tcp_under_loss)
    elif protocol == "srt" and scope != "between services":
        row["address"] = _asked(*row["address"].checks, srt_settings)
        row["reach over networks"] = _asked(*row["reach over networks"].checks, packets_too_large)
        row["capacity"] = _asked(*row["capacity"].checks, srt_latency) if crosses else row["capacity"]
    elif crosses:
        row["capacity"] = _asked(*row["capacity"].checks, loss_not_mended)
    if protocol in ("rtmp", "rtmps"):
        row["address"] = _asked(
            *row["address"].checks, not_published, nobody_pulls, unless=row["address"].unless
        )
    if protocol == "rtsp" and scope in ("to a platform", "between services"):
        row["address"] = _asked(*row["address"].checks, other_stream_of_it)
    if protocol == "rtsp":
        row["address"] = _asked(
            *row["address"].checks, path_missing, login_missing, unless=row["address"].unless
        )
    if protocol in ("srt", "rtmp", "paired"):
        row["address"] = _asked(*row["address"].checks, ends_differ, unless=row["address"].unless)
    if protocol == "ndi" and scope != "within a site":
        row["address"] = _asked(*row["address"].checks, groups_apart)
    if protocol == "paired":
        row["plugs and direction"] = _asked(encoder_sends, protocol_not_taken, families_differ)
    return row


_BOX: Row = {
    "plugs and direction": _asked(nothing_plugged_in, unless="it hands no picture on"),
    "format": _asked(format_refused, nobody_sees, no_system_format, rate_converted, levels_differ, overlay_left_on,
                     unless="no picture arrives at an input that could refuse it"),
    "reach": _none("a box has no length"),
    "way between places": _none("it stands in one place"),
    "assignment": _asked(input_undecided, input_contested, group_contested, unless="nothing is plugged into it"),
    "protection": _asked(protected_picture, unless="no output before it asks for protection"),
    "sound": _asked(microphone_open, mono_one_side, unless="asked of the aim: whether sound gets through it"),
    "power": _asked(no_power_over_ethernet, poe_budget, nothing_feeds_it, unless="it stands at another company's site"),
    "address": _asked(address_fault, address_twice, address_missing, no_lease, pool_too_small, two_dhcp, gateway_missing, network_range, networks_overlap, route_fault, mask_hides, zone_far, vlan_twice,
                      unless="it is on no network"),
    "reach over networks": _asked(network_elsewhere, not_plugged_in, wrong_socket, not_admitted, unless="it is on no network"),
    "capacity": _asked(usb_bus_shared, unless="asked of the streams it sends and takes"),
    "delay": _asked(sources_apart, unless="asked of the aim"),
    "the box itself": _asked(firmware_too_old, gear_missing, item_twice, name_twice, unless="no firmware is asked for, and nobody keeps count of it"),
}  # fmt: skip
_SOURCE: Row = {
    **_BOX,
    "plugs and direction": _asked(source_goes_nowhere),
    "format": _asked(overlay_left_on, unless="it has no menus on its outputs"),
}
_END: Row = {**_BOX, "plugs and direction": _asked(screen_gets_nothing, unless="its aim is asked about")}
_NETWORK_BOX: Row = {
    **_BOX,
    "format": _none("it passes streams on as they are"),
    "assignment": _none("a network socket is not assigned"),
    "protection": _none("it passes streams on as they are"),
    "sound": _none("it passes streams on as they are"),
    "reach over networks": _none("asked of the streams that cross it"),
    "capacity": _none("asked of the cables plugged into it"),
    "delay": _none("a thousandth of a second at most on a network of one's own"),
}
_SHOWING: Row = {**_BOX, **_END}
_BOXES: dict[Kind, Row] = {
    "camera": _SOURCE,
    "phone": _SOURCE,
    "converter": _BOX,
    "capture": _BOX,
    "switcher": _BOX,
    "encoder": _BOX,
    "decoder": _BOX,
    "computer": _BOX,
    "radio": _BOX,
    "distribution": _BOX,
    "router": _NETWORK_BOX,
    "network-switch": _NETWORK_BOX,
    "injector": _NETWORK_BOX,
    "monitor": _SHOWING,
    "projector": _SHOWING,
    "recorder": _SHOWING,
    "sound-desk": {**_BOX, "plugs and direction": _asked(desk_goes_nowhere), "format": _none("no picture goes through it"), "protection": _none("no picture goes through it"),
                   "assignment": _none("no picture goes through it")},
    "power-bank": dict.fromkeys(CONCERNS, _none("no picture goes through it: what it feeds is asked about")),
    "platform": {
        **_SHOWING,
        "power": _none("it is another company's"),
        "address": _asked(zone_far, unless="asked of the streams to it"),
        "reach over networks": _none("asked of the streams to it"),
        "assignment": _none("asked of the streams to it"),
        "format": _none("asked of the streams to it"),
        "the box itself": _none("it is another company's"),
    },
}  # fmt: skip

QUESTIONS: dict[HopKind, Row] = {
    **{HopKind("cable", kind): row for kind, row in _CABLES.items()},
    HopKind("radio", "radio"): _RADIO,
    **{HopKind("stream", p, scope): _stream_row(p, scope) for p in get_args(Protocol) for scope in SCOPES},
    **{HopKind("box", kind): row for kind, row in _BOXES.items()},
}
OF_NO_HOP = (
    link_leads_nowhere,
    live_unseen,
    stops_by_itself,
    approval_open,
    longer_than_taken,
    comms_not_carried,
    comms_apart,
    guest_unheard,
    hears_himself,
    no_cues,
    nothing_records,
    no_start,
    end_not_known,
    lead_time_missed,
    open_to_the_world,
    aim_not_met,
    below_the_lowest,
    sound_not_there,
    later_than_asked,
)
"""The checks that ask about the show or an aim as a whole."""
