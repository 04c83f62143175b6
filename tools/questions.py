"""Writes down every question that is asked, of what, from which source, and what is not asked yet: `docs/checks.md`."""

from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

from humble_relay.core.addressing.address_faults import address_fault, network_range
from humble_relay.core.cures.trial import CURES
from humble_relay.core.endpoints.stream_urls import stream_address
from humble_relay.core.judgement import CHECKS
from humble_relay.core.judgement.questions import QUESTIONS
from humble_relay.core.plan.stages import STAGES
from humble_relay.core.power.over_ethernet import no_power_over_ethernet, poe_budget
from humble_relay.core.radio.range_of_links import radio_too_far
from humble_relay.core.reach.browser_sides import sides_do_not_meet
from humble_relay.core.reach.firewalls import (
    firewall_in_the_box,
    kept_apart,
    not_let_in,
    not_let_out,
    packets_too_large,
)
from humble_relay.core.reach.intersite_streams import far_address
from humble_relay.core.reach.local_streams import local_address, networks_apart
from humble_relay.core.signal.cabling.port_speeds import (
    no_serial_format,
    port_too_slow,
    serial_rate_too_high,
    usb_too_much,
)
from humble_relay.core.signal.cabling.runs import cable_too_long, too_many_connections
from humble_relay.core.signal.flow.canvases import canvas_undecided
from humble_relay.core.signal.ports.formats import format_refused
from humble_relay.core.timing.lateness import later_than_asked
from humble_relay.core.timing.lip_sync import lip_sync
from humble_relay.core.timing.together import sources_apart
from humble_relay.core.transport.tcp_loss import tcp_under_loss
from humble_relay.core.upload.upload_fit import (
    bitrate_unsuited,
    headroom_used,
    upload_bad_hour,
    upload_too_small,
)

HEAD = """# What is asked

Every check with its question, asked of each thing of its kind, and where its figures or its rule come from. A doubt or an
unknown about one marked *tried* is settled by having seen it work. Each has twins in `tests/core/`. Made by
`make types`.
"""

OUTSIDE = {
    serial_rate_too_high: "totals and rates written out from ST 259 to 2082, ST 274, 296, 2036-1",
    no_serial_format: "the same totals; 8K50 by hand: 47.5 Gb/s",
    port_too_slow: "pixel clocks of CTA-861 by VIC: 34, 16, 63, 95, 97",
    cable_too_long: "the trade's runs by kind; 1/√rate over many rates",
    usb_too_much: "worked figures: 640 × 480 at 30 is 18.4 MB/s, 1080p30 124 MB/s",
    format_refused: "ST 274: 59.94 is 60000/1001, as exact fractions",
    radio_too_far: "20 cm of brick and of concrete by ITU-R P.2040-1; 6 dB are twice as far (P.525)",
    no_power_over_ethernet: "the four types of IEEE 802.3, source and device",
    poe_budget: "the four types of IEEE 802.3, source and device",
    network_range: "Python's `ipaddress`, over generated networks",
    address_fault: "Python's `ipaddress`, both ends of every range of the RFCs and their neighbours",
    stream_address: "`socket.inet_aton` for the short, octal and hexadecimal notations; `urllib` for the parts",
    local_address: "`socket.inet_aton` and `urllib`, as above",
    far_address: "`socket.inet_aton` and `urllib`, as above",
    upload_too_small: "NumPy's quantiles over generated samples; `zoneinfo` through midnight and the end of summer time",
    upload_bad_hour: "NumPy's quantiles; `zoneinfo`",
    headroom_used: "the four rules of thumb, by hand",
    bitrate_unsuited: "the trade's ranges, row by row",
    tcp_under_loss: "Mathis turned round by hand; 1460 B, 80 ms, 1 % is 1.79 Mb/s; 6 Mb/s at 80 ms needs about 3400 packets",
    later_than_asked: "150 and 400 ms of ITU-T G.114, both sides of each",
    lip_sync: "45 and 125 ms of ITU-R BT.1359-1, both sides of each",
    sources_apart: "1000 / frames per second, exactly",
    canvas_undecided: "(9/16)² = 31.6 %",
    networks_apart: "RFC 6762: link-local, not over a router",
    too_many_connections: "TIA-568: four, and five",
    **dict.fromkeys(
        (kept_apart, not_let_in, not_let_out, firewall_in_the_box),
        "Linux in network namespaces: demo, a case each, 60 drawn plans",
    ),
    sides_do_not_meet: "a translator written from RFC 4787, all 81 pairs",
    packets_too_large: "7 × 188 + 16 + 8 + 20, by hand",
}
"""What outside the project a check is held against, beyond its twins, where there is more than its source."""


def lines() -> Iterator[str]:
    """The page, line by line."""
    yield HEAD
    for stage in STAGES:
        here = [c for c in CHECKS if c.stage == stage]
        if not here:
            continue
        yield f"## {stage.capitalize()}\n"
        yield "| check | asked of | question | source | held against | |\n| --- | --- | --- | --- | --- | --- |"
        for c in here:
            marks = ", ".join(["tried"] * c.tried + ["cures"] * (c in CURES))
            yield f"| `{c.name}` | {c.asks_of.word} | {c.question} | {c.source} | {OUTSIDE.get(c, 'its twins, by hand')} | {marks} |"
        yield ""
    yield "## Not asked yet\n"
    lacking: dict[tuple[str, str], list[str]] = defaultdict(list)
    for hop, row in QUESTIONS.items():
        for concern, cell in row.items():
            if cell.yet:
                lacking[concern, cell.yet].append(hop.kind)
    if not lacking:
        yield "Nothing that the table of questions names."
        return
    yield "| concern | what is not asked | of |\n| --- | --- | --- |"
    for (concern, what), kinds in lacking.items():
        yield f"| {concern} | {what} | {', '.join(dict.fromkeys(kinds))} |"


if __name__ == "__main__":
    Path("docs/checks.md").write_text("\n".join(lines()) + "\n", encoding="utf-8")
