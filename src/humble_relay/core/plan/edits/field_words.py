"""What the fields of the plan are called, for the history and for whoever types them."""

UNITS = {
    "mbps": "Mb/s", "kbps": "kb/s", "gbps": "Gb/s", "ms": "ms", "m": "m", "w": "W", "wh": "Wh", "h": "h", "gb": "GB", "dbm": "dBm",
    "db": "dB", "s": "s", "bytes": "bytes",
}  # fmt: skip
_CALLED = {
    "video_mbps": "video bitrate", "peak_mbps": "goes up to", "audio_kbps": "audio", "keyframe_s": "keyframe every", "from_port": "from",
    "to_port": "to", "from_device": "from", "to_device": "to", "from_place": "from", "key": "key", "rtt_ms": "round trip",
    "others_mbps": "others take", "range_v6": "IPv6 range", "ipv6": "IPv6", "address_v6": "IPv6 address", "vlan": "VLAN", "mtu": "MTU",
    "poe_w": "gives PoE", "poe_budget_w": "PoE budget", "by": "fed by", "lets_out": "what it lets out", "lets_in": "lets callers in",
    "lets_in_from": "lets in from", "delay_ms": "delay", "produces": "makes", "accepts": "takes", "backup": "sent to the backup ingest too",
    "latency_ms": "SRT latency", "view_address": "viewing address", "listens_port": "listens on port", "media_over": "media go by",
    "caller": "who calls", "line": "goes out by", "small": "substream", "layout": "cut of the picture", "set_there": "set there",
    "snoops": "IGMP snooping", "admission": "lets on", "steers": "routes by policy", "translates": "translates addresses (NAT)",
    "reflects": "hairpin", "repeats_names": "repeats names", "sign_in": "shows a page to sign in on", "behind": "hangs behind",
    "draw_w": "draws", "battery_h": "battery lasts", "stored_wh": "stored", "cap_gb": "data cap", "used_gb": "data used",
    "rsrp_dbm": "RSRP", "rsrq_db": "RSRQ", "sinr_db": "SINR", "range_m": "quoted range", "max_mbps": "most", "max_gbps": "speed",
    "at_once": "at the same time", "switch_s": "switches over in", "holds_ms": "holds back", "rated_m": "rated length",
    "new_account": "first show on this account", "clock_set": "clock is set", "sound_through": "passes sound on",
}  # fmt: skip
"""Those whose name in the plan is not what they are called."""

EMPTY_WORDS = {
    "line": "its router's first line", "caller": "the sender, or as the address says", "peak_mbps": "constant", "keyframe_s": "the usual two",
    "listens_port": "as called", "layout": "as it is", "input": "none", "place": "nowhere yet", "length_m": "as long as the way",
    "behind": "nothing of ours", "device": "none of the plan's", "lowest": "any", "longest_delay_ms": "any", "bit_depth": "8", "role": "none",
    "assigned": "as it comes", "loop_of": "nothing", "group": "none", "poe_w": "none",
}  # fmt: skip
"""What it means that a field is empty, where that is not that nobody said."""


def field_words(field: str) -> tuple[str, str]:
    """What a field is called, and its unit (empty where it has none), by its name at the end of its path.

    >>> field_words("latency_ms"), field_words("encoding.max_mbps"), field_words("length_m"), field_words("carrier")
    (('SRT latency', 'ms'), ('most', 'Mb/s'), ('length', 'm'), ('carrier', ''))
    """
    name = field.split(".")[-1]
    words = name.split("_")
    unit = UNITS.get(words[-1], "") if len(words) > 1 else ""
    return _CALLED.get(name, " ".join(words[:-1] if unit else words)), unit
