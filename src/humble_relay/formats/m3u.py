"""The streams that a player can open, as an M3U list (RFC 8216 §4 for its first lines; common practice for the rest)."""

from humble_relay.core.endpoints.stream_urls import typed_address, with_stream_id
from humble_relay.core.hidden_text import left_out
from humble_relay.core.judging.case import Case


def write_m3u(case: Case, keys: bool = False) -> str:
    """Every stream with an address, and in a comment how many were left out for want of one. Passwords and keys within
    addresses are left out unless asked for, and then marked."""
    lines = ["#EXTM3U"]
    if keys:
        lines.append("# with keys and passwords in clear: not for everybody")
    other = 0
    for stream in case.streams:
        address = typed_address(case, stream)
        if not address or "//" not in address:
            other += 1
            continue
        address = with_stream_id(address, stream.stream_id) if keys else left_out(address)
        lines += [f"#EXTINF:-1,{stream.name}", address]
    if other:
        lines.append(f"# {other} without an address of that kind")
    return "\r\n".join(lines) + "\r\n"
