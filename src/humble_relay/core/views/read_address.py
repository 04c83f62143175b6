"""A pasted address, read: which protocol, host and port it names, whose that is in the plan, and what is wrong with it."""

from urllib.parse import parse_qs, urlsplit

from humble_relay.core.addressing.hosts import address_in, host_class
from humble_relay.core.addressing.subnets import addresses_of, ipv4, subnet
from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.endpoints.calls import asked_port
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.endpoints.typed_addresses import SCHEMES, fault_in
from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import HIDDEN, left_out
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Protocol, Stream
from humble_relay.core.plan.video import VideoFormat

_MEANS = {
    "this machine": "the machine that it is typed into, and no other",
    "private": "reached from its own networks only",
    "carrier shared": "a carrier's: nobody calls it from outside",
    "self-assigned": "what a box gives itself when DHCP did not answer",
    "self-named": "a name known on its own network only",
    "unspecified": "no address of any box",
    "multicast": "a group of boxes, never one",
}


class ReadLine(Frozen):
    """One thing that an address says: what it is about, and what it says of that."""

    about: str
    says: str


class ReadAddress(Frozen):
    """What a pasted address says, its secrets hidden; what is wrong with it, where anything is."""

    shown: str
    protocol: Protocol | None
    lines: tuple[ReadLine, ...]
    wrong: str | None
    stream: str | None
    """The stream of the plan that is sent there already."""


def read_address(case: Case, text: str) -> ReadAddress:
    """The address read. Nothing of it is kept.

    >>> from datetime import UTC, datetime
    >>> from humble_relay.core.plan import Plan, Show
    >>> from humble_relay.core.plan.survey import Survey
    >>> case = Case(Plan(show=Show(name="Regatta")), Survey(), datetime(2026, 9, 14, tzinfo=UTC))
    >>> [line.says for line in read_address(case, "rtmp://127.1/live/deck").lines][:2]
    ['RTMP', '127.1: the machine that it is typed into, and no other (RFC 1122, RFC 4291)']
    """
    bare = text.strip()
    try:
        parts = urlsplit(bare if "//" in bare else f"//{bare}")
        host, port, path, query = parts.hostname or "", parts.port, parts.path, parts.query
    except ValueError:
        return ReadAddress(
            shown=left_out(bare),
            protocol=None,
            lines=(),
            wrong=f"This cannot be read as an address: {bare[:80]}",
            stream=None,
        )
    protocol = next((p for p, schemes in SCHEMES.items() if parts.scheme in schemes), None)
    like = Stream(
        id="pasted",
        name="Pasted",
        from_device="a",
        to_device="b",
        protocol=protocol or "ndi",
        format=VideoFormat(width=1280, height=720, rate="25"),
        video_mbps=1,
    )
    fault = fault_in(like, text) if protocol else None if host else f"cannot be read: {bare[:80]}"
    lines = [
        *([ReadLine(about="Protocol", says=PROTOCOL_WORDS[protocol])] if protocol else []),
        *([ReadLine(about="Host", says=_host(case, host))] if host else []),
        *_port(protocol, bare, port),
        *_path(protocol, path),
        *_settings(query),
    ]
    if parts.password:
        lines.append(ReadLine(about="Password", says="it has one, of the user before it"))
    return ReadAddress(
        shown=left_out(bare),
        protocol=protocol,
        lines=tuple(lines),
        wrong=f"The address {fault}." if fault else None,
        stream=next(
            (
                s.name
                for s in case.streams
                if _same(typed_address(case, s) or "", host, asked_port(s.protocol, bare))
            ),
            None,
        ),
    )


def _host(case: Case, host: str) -> str:
    """Whose a host is, or what it means anywhere."""
    address = address_in(host)
    found = host_class(host)
    means = (
        f"{_MEANS.get(found[0], found[0] if found[0] != 'public' else 'on the internet')} ({found[1]})"
        if found
        else "a name"
    )
    if found and found[0] == "this machine":
        return f"{host}: {means}"
    if address:
        if ref := next((ref for ref, p in case.ports.items() if address in addresses_of(p)), None):
            return f"{host}: {case.port_name(ref)}, {means}"
        if line := next((u for u in case.uplinks.values() if u.address and ipv4(u.address) == address), None):
            return f"{host}: the outside of {line.name}, {means}"
        for network in case.networks.values():
            sub = subnet(network)
            if sub and address in sub.range:
                return f"{host}: an address of {network.name}, and nobody's in this plan; {means}"
    if taker := next(
        (d for d in case.devices.values() if d.ingest and d.ingest.host.strip("[]").lower() == host), None
    ):
        return f"{host}: {taker.name}"
    return f"{host}: {means}"


def _port(protocol: Protocol | None, text: str, port: int | None) -> list[ReadLine]:
    asked = asked_port(protocol, text) if protocol else port
    over = "UDP" if protocol == "srt" else "TCP" if protocol else "port"
    own = "" if port or not asked else ", its own, for none is typed"
    return [ReadLine(about="Asks for", says=f"{over} {asked}{own}")] if asked else []


def _path(protocol: Protocol | None, path: str) -> list[ReadLine]:
    parts = [p for p in path.split("/") if p]
    if protocol in ("rtmp", "rtmps"):
        named = ["Application", "Stream name, or key"]
        return [
            ReadLine(about=about, says=part if about == "Application" else HIDDEN)
            for about, part in zip(named, parts, strict=False)
        ]
    if protocol == "rtsp" and parts:
        which = (
            "the sub stream"
            if "sub" in path.lower()
            else "the main stream"
            if "main" in path.lower()
            else "which the camera's manual tells"
        )
        return [ReadLine(about="Stream", says=f"{path}: {which}")]
    return []


def _settings(query: str) -> list[ReadLine]:
    told = {"mode": "Mode", "latency": "Latency", "passphrase": "Passphrase", "streamid": "Stream id"}
    found = parse_qs(query)
    return [
        ReadLine(about=about, says=HIDDEN if name in ("passphrase", "streamid") else found[name][0][:40])
        for name, about in told.items()
        if name in found
    ]


def _same(address: str, host: str, port: int | None) -> bool:
    try:
        parts = urlsplit(address if "//" in address else f"//{address}")
        return bool(host) and parts.hostname == host and (parts.port in (None, port))
    except ValueError:
        return False
