"""What the fields of the plan are called, for the history and for those who type them."""

UNITS = {
    "mbps": "Mb/s", "kbps": "kb/s", "gbps": "Gb/s", "ms": "ms", "m": "m", "w": "W", "wh": "Wh", "h": "h", "gb": "GB", "dbm": "dBm",
    "db": "dB", "s": "s", "bytes": "bytes",
}  # fmt: skip
_CALLED = {
    "video_mbps": "video bitrate", "peak_mbps": "peak bitrate (VBR)", "audio_kbps": "audio", "keyframe_s": "keyframe interval", "from_port": "from",
    "to_port": "to", "from_device": "from", "to_device": "to", "from_place": "from", "key": "key", "rtt_ms": "round trip",
    "others_mbps": "other traffic", "range_v6": "IPv6 range", "ipv6": "IPv6", "address_v6": "IPv6 address", "vlan": "VLAN", "mtu": "MTU",
    "poe_w": "gives PoE", "poe_budget_w": "PoE budget", "by": "power sources", "lets_out": "outbound filter", "lets_in": "inbound allowed",
    "delay_ms": "delay", "produces": "output format", "accepts": "accepted formats", "backup": "backup ingest",
    "latency_ms": "SRT latency", "view_address": "viewing address", "listens_port": "listener port", "media_over": "media transport",
    "caller": "caller", "line": "uplink", "small": "substream", "layout": "crop", "set_there": "set at the listener",
    "snoops": "IGMP snooping", "admission": "admission", "steers": "policy routes", "translates": "NAT",
    "reflects": "hairpin NAT", "mapping": "NAT mapping", "filtering": "NAT filtering", "repeats_names": "mDNS repeater", "sign_in": "captive portal", "behind": "upstream network",
    "draw_w": "power draw", "battery_h": "battery life", "stored_wh": "battery capacity", "cap_gb": "data cap", "used_gb": "data used",
    "rsrp_dbm": "RSRP", "rsrq_db": "RSRQ", "sinr_db": "SINR", "range_m": "quoted range", "max_mbps": "maximum bitrate", "max_gbps": "port speed",
    "at_once": "at once", "switch_s": "failover time", "holds_ms": "reorder buffer", "rated_m": "rated length",
    "item": "label of the box", "new_account": "new account", "publication": "publication", "links_out": "link sent out", "starts": "goes live", "stops_on_drop": "auto-stop on a drop", "approval_h": "approval takes", "cap_h": "longest stream", "delay_mode": "delay mode", "watched_by": "watched by", "chat_by": "chat read by", "minus": "mix-minus", "who": "who is there", "password_by": "password with", "means": "carried by", "clock_set": "clock set", "sound_through": "audio passed on", "joints": "couplers", "x_m": "east", "y_m": "north", "indoor": "indoors", "outside": "address type", "routes": "static routes", "forwards.to_port": "to port", "rules.lets": "lets pass", "rules.from_network": "from", "rules.to_network": "to",
    "routes.to_range": "to range", "routes.via": "next router", "between.kind": "obstacle", "between.thickness_m": "thickness",
}  # fmt: skip
"""Those whose name in the plan is not what they are called."""

EMPTY_WORDS = {
    "line": "its router's first line", "caller": "the sender, or as the address says", "peak_mbps": "constant", "keyframe_s": "the usual two",
    "listens_port": "as called", "layout": "as it is", "input": "none", "place": "nowhere yet", "item": "any one of its model", "length_m": "as long as the way",
    "behind": "nothing of ours", "device": "none of the plan's", "lowest": "any", "longest_delay_ms": "any", "bit_depth": "8", "role": "none",
    "assigned": "as it comes", "loop_of": "nothing", "group": "none", "poe_w": "none", "from_network": "outside", "to_network": "outside",
    "transport": "TCP and UDP", "first_port": "all ports", "to_port": "the same", "last_port": "the first alone", "outside": "as the address says", "mask_bits": "the network's",
    "default_route": "by its role", "media_over": "not known",
}  # fmt: skip
"""What it means that a field is empty, where that is not that nobody said."""


def field_words(field: str) -> tuple[str, str]:
    """What a field is called, and its unit (empty where it has none), by its name at the end of its path.

    >>> field_words("latency_ms"), field_words("encoding.max_mbps"), field_words("length_m"), field_words("carrier")
    (('SRT latency', 'ms'), ('maximum bitrate', 'Mb/s'), ('length', 'm'), ('carrier', ''))
    """
    name = field.split(".")[-1]
    words = name.split("_")
    unit = UNITS.get(words[-1], "") if len(words) > 1 else ""
    return _CALLED.get(field) or _CALLED.get(name, " ".join(words[:-1] if unit else words)), unit
