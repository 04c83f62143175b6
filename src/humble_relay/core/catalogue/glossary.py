"""The terms that the product uses, each in a sentence; the interface links to them where they stand."""

from humble_relay.core.frozen import Frozen, slug


class Term(Frozen):
    """A term of the trade and what it means."""

    id: str
    term: str
    meaning: str
    source: str = ""
    """Where the term is defined; empty where it is common practice."""


_TERMS: tuple[tuple[str, str, str], ...] = (
    ("10th percentile", "The upload that nine of ten measurements reached. What a stream may count on at that hour.", "Hyndman and Fan 1996"),
    ("90 % interval", "Between these two values the truth lies for nine of ten lines that were measured like this one.", ""),
    ("Backup ingest", "A second address of the same platform; the encoder sends the stream to both.", ""),
    ("Bonded uplink", "Several lines, mostly modems, that share the packets of a stream; the far end puts them in order again.", ""),
    ("Caller, listener", "Of two devices the one that opens the connection, and the one that waits for it. The listener needs an address that the caller can reach.", "draft-sharabayko-srt"),
    ("Captive portal", "A network that shows a page to sign in on before it lets anything through.", "RFC 8952"),
    ("Carrier NAT (CGNAT)", "Many customers share one outside address of the carrier (100.64.0.0/10): nobody can call in.", "RFC 6598"),
    ("Clean feed", "The program without graphics.", ""),
    ("Congestion control", "How a sender slows down: by loss (Reno, CUBIC), or by a model of the line (BBR).", "RFC 5681, RFC 9438"),
    ("DHCP reservation", "The DHCP server gives this device the same address each time.", "RFC 2131"),
    ("Exposed port", "A port that anybody on the internet can reach.", ""),
    ("Failover uplink", "The uplink that a router changes to when the first one drops.", ""),
    ("Hairpin NAT", "The router passes on calls from inside to its own outside address.", "RFC 4787 §6"),
    ("Headroom rule", "How much of a measured upload may be planned: half, a third left free, 1.5 times, the worst measured, or one push alone.", ""),
    ("Ingest", "Where a platform takes a stream: host, port, application and key.", ""),
    ("Jitter", "How much the delay of packets varies, in ms.", "RFC 3550 §6.4.1"),
    ("Keyframe interval", "Seconds between pictures that are sent whole. A viewer or platform begins at one of them.", ""),
    ("Latency (SRT)", "How long the receiver holds packets back so that lost ones can come again: a setting, the larger of both ends counts.", "draft-sharabayko-srt §4.4"),
    ("Main stream, substream", "The full picture of a network camera, and a smaller one under a path of its own.", ""),
    ("Median", "Half of the measurements were above it, half below.", ""),
    ("Mix-minus", "Everything a far speaker should hear, without their own sound.", ""),
    ("Multi-view", "All inputs of a switcher in one picture, for the operator.", ""),
    ("NAT mapping, NAT filtering", "Whether a router keeps one outside port for a device, and from whom it lets answers in.", "RFC 4787 §4, §5"),
    ("Outbound filter", "What may leave a network: everything, no UDP, or the web alone.", ""),
    ("Packet loss", "The share of packets that never arrive, in percent.", "RFC 7680"),
    ("Passphrase (SRT)", "Encrypts an SRT stream; both ends type the same 10 to 79 characters.", "draft-sharabayko-srt §6"),
    ("Peak bitrate (VBR)", "The most that a variable bitrate reaches; the uplink must carry it.", ""),
    ("Policy route", "A router's rule that sends some devices or ports by another uplink.", ""),
    ("Port forward", "The router sends what comes to one of its outside ports to a device inside.", ""),
    ("Program", "The picture that the operator has cut to, as the viewers see it.", ""),
    ("Rendezvous", "Both ends of an SRT stream call each other at once.", "draft-sharabayko-srt §4.3"),
    ("Reorder buffer", "How long a bonded uplink holds packets back to put them in order.", ""),
    ("Residual loss", "What stays lost after every retransmission that was in time.", ""),
    ("Round-trip time (RTT)", "How long a packet and its answer take, in ms.", "RFC 2681"),
    ("Stream key", "The secret that tells a platform whose stream it is. Anyone who has it can go live.", ""),
    ("Subnet, mask", "Which addresses are on one network: 192.168.20.0/24 is 192.168.20.0 to 192.168.20.255.", "RFC 4632"),
    ("Tally", "Lamp or picture that tells a camera operator that the camera is on program.", ""),
    ("Talk-back", "The voice line from the desk to the camera operators.", ""),
    ("VLAN", "One of several networks on the same cables and switches, told apart by a number from 1 to 4094.", "IEEE 802.1Q"),
    ("WAN port, LAN port", "The socket of a router towards the internet, and those towards the devices of the site.", ""),
)  # fmt: skip


def glossary() -> tuple[Term, ...]:
    """All terms, in alphabetical order."""
    found = (Term(id=slug(term), term=term, meaning=says, source=source) for term, says, source in _TERMS)
    return tuple(sorted(found, key=lambda t: t.term.lower()))
