"""Writes down every question that is asked, of what, from which source, and what is not asked yet: `docs/checks.md`."""

from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

from humble_relay.core.cures.trial import CURES
from humble_relay.core.judgement import CHECKS
from humble_relay.core.judging.questions import QUESTIONS
from humble_relay.core.plan.stages import STAGES

HEAD = """# What is asked

Every check with its question, asked of each thing of its kind, and where its figures or its rule come from. A doubt or an
unknown about one marked *tried* is settled by having seen it work. Each has twins in `tests/core/test_checks.py`. Made by
`make types`.
"""

OUTSIDE = {
    "serial-rate-too-high": "totals and rates written out from ST 259 to 2082, ST 274, 296, 2036-1",
    "no-serial-format": "the same totals; 8K50 by hand: 47.5 Gb/s",
    "port-too-slow": "pixel clocks of CTA-861 by VIC: 34, 16, 63, 95, 97",
    "cable-too-long": "the trade's runs by kind; 1/√rate over many rates",
    "usb-too-much": "worked figures: 640 × 480 at 30 is 18.4 MB/s, 1080p30 124 MB/s",
    "format-refused": "ST 274: 59.94 is 60000/1001, as exact fractions",
    "radio-too-far": "20 cm of brick and of concrete by ITU-R P.2040-1; 6 dB are twice as far (P.525)",
    "no-power-over-ethernet": "the four types of IEEE 802.3, source and device",
    "poe-budget": "the four types of IEEE 802.3, source and device",
    "network-range": "Python's `ipaddress`, over generated networks",
    "address-fault": "Python's `ipaddress`, both ends of every range of the RFCs and their neighbours",
    "stream-address": "`socket.inet_aton` for the short, octal and hexadecimal notations; `urllib` for the parts",
    "local-address": "`socket.inet_aton` and `urllib`, as above",
    "far-address": "`socket.inet_aton` and `urllib`, as above",
    "upload-too-small": "NumPy's quantiles over generated samples; `zoneinfo` through midnight and the end of summer time",
    "upload-bad-hour": "NumPy's quantiles; `zoneinfo`",
    "headroom-used": "the four rules of thumb, by hand",
    "bitrate-unsuited": "the trade's ranges, row by row",
    "tcp-under-loss": "Mathis turned round by hand; 1460 B, 80 ms, 1 % is 1.79 Mb/s; 6 Mb/s at 80 ms needs about 3400 packets",
    "later-than-asked": "150 and 400 ms of ITU-T G.114, both sides of each",
    "lip-sync": "45 and 125 ms of ITU-R BT.1359-1, both sides of each",
    "sources-apart": "1000 / frames per second, exactly",
    "canvas-undecided": "(9/16)² = 31.6 %",
    "networks-apart": "RFC 6762: link-local, not over a router",
    "too-many-connections": "TIA-568: four, and five",
    **dict.fromkeys(
        ("kept-apart", "not-let-in", "not-let-out", "firewall-in-the-box"),
        "Linux in network namespaces: demo, a case each, 60 drawn plans",
    ),
    "sides-do-not-meet": "a translator written from RFC 4787, all 81 pairs",
    "packets-too-large": "7 × 188 + 16 + 8 + 20, by hand",
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
            marks = ", ".join(["tried"] * c.tried + ["cures"] * (c.name in CURES))
            yield f"| `{c.name}` | {c.asks_of.word} | {c.question} | {c.source} | {OUTSIDE.get(c.name, 'its twins, by hand')} | {marks} |"
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
