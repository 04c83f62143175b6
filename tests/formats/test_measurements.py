"""Measurements as people paste them, and as the real iperf3 prints them."""

import json
import re
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from humble_relay.formats.measurements import UnreadableMeasurement, jitter_ms, read_measurements

PING = """PING relay.example (192.0.2.10) 56(84) bytes of data.
64 bytes from 192.0.2.10: icmp_seq=1 ttl=57 time=18.2 ms
64 bytes from 192.0.2.10: icmp_seq=2 ttl=57 time=22.6 ms
64 bytes from 192.0.2.10: icmp_seq=4 ttl=57 time=19.0 ms

--- relay.example ping statistics ---
4 packets transmitted, 3 received, 25% packet loss, time 3005ms
rtt min/avg/max/mdev = 18.200/19.933/22.600/1.917 ms
"""


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("18.2 up 94 down 23 ms", {"up_mbps": 18.2, "down_mbps": 94, "rtt_ms": 23}),
        ("up 18,2 down 94,5", {"up_mbps": 18.2, "down_mbps": 94.5}),
        (
            "Upload: 18.2 Mbit/s, Download: 94 Mbit/s, ping 23",
            {"up_mbps": 18.2, "down_mbps": 94, "rtt_ms": 23},
        ),
        (
            "850 kbit/s up 3 % 2 ms jitter 40 ms busy",
            {"up_mbps": 0.85, "loss_pct": 3, "jitter_ms": 2, "rtt_ms": 40, "conditions": "busy"},
        ),
        ("5 MB/s up 20 Mb/s down", {"up_mbps": 40, "down_mbps": 20}),  # a byte is eight bits
        ("1 gbps up, empty", {"up_mbps": 1000, "conditions": "empty"}),
        ("6.1 up, café full", {"up_mbps": 6.1, "conditions": "busy"}),
    ],
)
def test_loose_lines(line: str, expected: dict[str, object]) -> None:
    reading = read_measurements(line)
    found = reading.drafts[0].model_dump()
    assert {k: found[k] for k in expected} == expected


def test_a_time_in_the_line_is_kept_and_what_is_not_understood_is_said() -> None:
    reading = read_measurements(
        "2026-09-11 19:45 6.1 up 37 down\nthe café was full\n\n2026-09-11T20:15+01:00 6.9 up"
    )
    assert [d.up_mbps for d in reading.drafts] == [6.1, 6.9]
    assert reading.drafts[0].at and reading.drafts[0].at.hour == 19
    assert reading.skipped == ("the café was full",)


@pytest.mark.parametrize(
    ("line", "wall"),
    [
        ("19:45 6.1 up", "19 Sep 2026, 19:45"),  # today, on the show's clock
        ("7:05 6 up", "19 Sep 2026, 07:05"),
        ("2026-09-11 19:45 6.1 up", "11 Sep 2026, 19:45"),
        ("2026-09-11T19:45Z 6.1 up", "11 Sep 2026, 20:45"),
        ("6.1 up", "19 Sep 2026, 21:00"),  # now, where it says none
        ("27/08/2026 19:45 6.1 up", "27 Aug 2026, 19:45"),
        ("08-27-2026 19:45 6.1 up", "27 Aug 2026, 19:45"),  # only one of the two can be the month
        ("6.1 up 11.9. 20:30", "11 Sep 2026, 20:30"),  # the last one that there was
        ("Sat 12 Sep 20:30 6.1 up", "12 Sep 2026, 20:30"),
        ("6.1 up yesterday 20:30", "18 Sep 2026, 20:30"),
    ],
)
def test_times_are_on_the_clock_of_the_show(line: str, wall: str) -> None:
    now = datetime(2026, 9, 19, 21, 0, tzinfo=ZoneInfo("Europe/London"))
    (draft,) = read_measurements(line, now).drafts
    assert (draft.wall, draft.line) == (wall, line)
    assert draft.at is None or f"{draft.at.day} {draft.at:%b %Y, %H:%M%z}" == f"{wall}+0100"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("-5 up", "-5 up (a rate or a time is never below zero)"),
        ("18 up -3 ms", "never below zero"),
        ("2026-02-31 19:45 6 up", "there is no day 2026-02-31 19:45"),
        ("25:10 6 up", "there is no time 25:10"),
        ("31.9.2026 20:30 6 up", "there is no day 31.9.2026"),
        ("11/09/2026 20:30 6 up", "11/09/2026 may be two days"),
        ("6 up yesterday", "which day is yesterday"),  # nobody said which day it is now
        ("Fri 20:30 6 up", "which day is Fri"),
        ("up,down\n-22,3", "-22,3 (a rate or a time is never below zero)"),
        ("at,up\n2026-13-13 20:30,21", "a date in it cannot be read"),
    ],
)
def test_what_cannot_be_is_refused_in_words_and_the_rest_is_read(text: str, said: str) -> None:
    with pytest.raises(UnreadableMeasurement, match=re.escape(said)):
        read_measurements(text)
    good = {"-": "\n30 up - 94 down", "u": "\n30,94", "a": "\n2026-09-13 20:30,30"}  # a dash is no minus
    reading = read_measurements(text + good.get(text[0], good["-"]))
    assert [d.up_mbps for d in reading.drafts] == [30] and said in reading.skipped[0]


def test_pings_text_alone_lacks_only_the_upload() -> None:
    draft = read_measurements(PING).drafts[0]
    assert (draft.rtt_ms, draft.loss_pct, draft.up_mbps) == (19.933, 25, None)
    # RFC 3550 §6.4.1 by hand: |4.4|/16 = 0.275; 0.275 + (3.6 − 0.275)/16 = 0.4828.
    assert draft.jitter_ms == pytest.approx(0.483, abs=0.0005)


def test_pings_text_joins_the_line_it_was_pasted_with() -> None:
    draft = read_measurements("18.2 up 94 down\n" + PING).drafts[0]
    assert (draft.up_mbps, draft.rtt_ms, draft.loss_pct) == (18.2, 19.933, 25)


def test_jitter_of_a_steady_line_is_nothing_and_of_one_reading_unknown() -> None:
    assert jitter_ms([20, 20, 20]) == 0
    assert jitter_ms([20]) is None


def test_csv_with_either_separator() -> None:
    comma = read_measurements(
        "at,up,down,rtt,conditions\n2026-09-11 19:45,6.1,37,68,busy\n2026-09-11 20:15,x,1,1,busy\n"
    )
    assert comma.kind == "csv" and comma.drafts[0].up_mbps == 6.1 and comma.drafts[0].conditions == "busy"
    assert comma.skipped == ("2026-09-11 20:15,x,1,1,busy (a number or a date in it cannot be read)",)
    semicolon = read_measurements("Time;Upload (Mb/s);Download\n2026-09-11 19:45;6,1;37\n")
    assert semicolon.drafts[0].up_mbps == 6.1


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("nothing here", "No measurement found"),
        ("{}", "not the JSON that iperf3"),
        ('{"start": {"test_start": 4}, "end": []}', "not the JSON that iperf3"),
        ('{"error": "unable to connect to server", "start": {}, "end": {}}', "unable to connect"),
        ("at,down\n2026-09-11,4\n", "no column called up"),
        ("x" * 1_000_001, "more than a million"),
    ],
)
def test_what_cannot_be_read_says_what_would_be(text: str, said: str) -> None:
    with pytest.raises(UnreadableMeasurement, match=said):
        read_measurements(text)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused_and_never_breaks(text: str) -> None:
    for attempt in (text, "{" + text, "up," + text):
        try:
            assert read_measurements(attempt).drafts
        except UnreadableMeasurement as refused:
            assert str(refused)


MTR = """{"report": {"mtr": {"src": "laptop", "dst": "ingest.alder.example", "tests": 100},
 "hubs": [{"count": 1, "host": "192.168.20.1", "Loss%": 0.0, "Snt": 100, "Last": 0.4, "Avg": 0.5, "Best": 0.3, "Wrst": 1.2, "StDev": 0.1},
          {"count": 2, "host": "203.0.113.1", "Loss%": 60.0, "Snt": 100, "Last": 8.4, "Avg": 8.5, "Best": 8.3, "Wrst": 9.2, "StDev": 0.1},
          {"count": 3, "host": "ingest.alder.example", "Loss%": 1.0, "Snt": 100, "Last": 21.4, "Avg": 21.7, "Best": 20.3, "Wrst": 33.2, "StDev": 1.9}]}}"""
"""As `mtr --json` prints it (mtr 0.95)."""


def test_mtrs_report_is_read_by_its_last_hop() -> None:
    """A hop in between that seldom answers loses nothing of what passes it."""
    (row,) = read_measurements(MTR).drafts
    assert (row.rtt_ms, row.loss_pct, row.probes, row.up_mbps, row.method) == (21.7, 1.0, 100, None, "mtr")
    with pytest.raises(UnreadableMeasurement, match="mtr --json"):
        read_measurements('{"report": {"hubs": []}}')


@pytest.fixture
def iperf3_port() -> Iterator[int]:
    """A real iperf3 server on loopback."""
    if not shutil.which("iperf3"):
        pytest.fail("iperf3 is missing: make test installs it")
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = subprocess.Popen(["iperf3", "-s", "-B", "127.0.0.1", "-p", str(port)], stdout=subprocess.DEVNULL)
    time.sleep(0.5)
    yield port
    server.kill()
    server.wait()


def run_iperf3(port: int, *flags: str) -> str:
    command = ["iperf3", "-c", "127.0.0.1", "-p", str(port), "-t", "1", "-J", *flags]
    for _ in range(20):  # the one before may not have been let go yet
        said = subprocess.run(command, capture_output=True, text=True, timeout=30).stdout
        if "server is busy" not in said:
            break
        time.sleep(0.2)
    return said


@pytest.mark.no_cover
def test_iperf3_as_the_real_program_prints_it(iperf3_port: int) -> None:
    """What is read is what the program counted, however fast the machine was."""
    text = run_iperf3(iperf3_port, "-b", "20M")
    draft, counted = read_measurements(text).drafts[0], json.loads(text)["end"]
    assert draft.up_mbps == pytest.approx(counted["sum_received"]["bits_per_second"] / 1e6, abs=0.001)
    assert draft.rtt_ms == pytest.approx(counted["streams"][0]["sender"]["mean_rtt"] / 1000, abs=0.001)
    assert draft.at and draft.at.tzinfo and (draft.method, draft.connections) == ("iperf3 TCP", 1)

    reverse = read_measurements(run_iperf3(iperf3_port, "-R", "-P", "2", "-b", "20M")).drafts[0]
    assert reverse.up_mbps is None and reverse.down_mbps and reverse.connections == 2

    text = run_iperf3(iperf3_port, "-u", "-b", "5M")
    udp, counted = read_measurements(text).drafts[0], json.loads(text)["end"]
    assert udp.method == "iperf3 UDP" and udp.jitter_ms is not None and udp.connections is None
    assert (udp.loss_pct, udp.probes) == (counted["sum"]["lost_percent"], counted["sum"]["packets"])
    received = counted.get("sum_received") or counted["sum"]
    assert udp.up_mbps == pytest.approx(received["bits_per_second"] / 1e6, abs=0.001)
