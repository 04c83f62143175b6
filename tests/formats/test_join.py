"""What is handed to the other side of a stream: the card, its code as a scanner reads it, and the file as the other end reads it."""

import json

import numpy as np
import pytest
import zxingcpp
from hypothesis import given, settings
from hypothesis import strategies as st

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import findings
from humble_relay.core.papers.join_card import join_card, other_sides
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Addition, added
from humble_relay.formats.join_file import UnreadableJoin, box_for, edits_of_join, read_join, write_join
from humble_relay.formats.qr_code import qr_rows
from tests.build import case_of, put, put_port, small_show
from tests.shows import SHOWS

FAR = case_of(small_show(*SHOWS["far"]))
FEED = FAR.links["feed-2"]
assert isinstance(FEED, Stream)


def scanned(rows: tuple[str, ...]) -> str:
    """What an independent reader makes of a code."""
    dark = np.array([[m == "1" for m in row] for row in rows])
    picture = np.kron(np.where(dark, 0, 255).astype("uint8"), np.ones((4, 4), dtype="uint8"))
    (found,) = zxingcpp.read_barcodes(picture)
    return found.text


@settings(deadline=None, max_examples=40)
@given(st.text(st.characters(min_codepoint=33, max_codepoint=126), min_size=1, max_size=200))
def test_what_the_code_says_is_what_a_scanner_reads(text: str) -> None:
    assert scanned(qr_rows(text)) == text


def test_a_card_tells_the_other_side_everything_and_the_secret_only_when_asked() -> None:
    assert [(s.id, d.id) for s, d in other_sides(FAR)] == [("feed-2", "decoder")]
    bare, clear = (join_card(FAR, FEED, FAR.devices["decoder"], keys) for keys in (False, True))
    assert "stern-lantern" not in bare.model_dump_json() and bare.secret == "left out"
    assert "stern-lantern" in clear.model_dump_json() and clear.secret == "in clear"
    assert "The router forwards the port to this box, and the box keeps its address" in bare.checks
    call = case_of(small_show(*SHOWS["call"]))
    ((stream, phone),) = other_sides(call)
    invited = join_card(call, stream, phone, True)
    assert scanned(qr_rows(invited.code)) == "https://calls.birch.example/in"
    assert "calls.birch.example/in" not in join_card(call, stream, phone, False).model_dump_json()


def test_a_settings_file_is_read_at_the_other_end_with_the_address_that_is_right_there() -> None:
    text = write_join(FAR, FEED, FAR.devices["sender"], secrets=True)
    # In another town: a plan that has only the sender gets the decoder's site, its line and forward, and the stream.
    other = [added(from_library("encoder-paired", "box", "boathouse", "Our box")), put_port("box/lan", "interface.network", "lan"),
             put_port("box/in", "assigned", "sdi")]  # fmt: skip
    there = case_of(small_show(*other))
    found = read_join(text)
    assert box_for(there, found) is there.devices["encoder"]  # both would do: the first of them
    after = there.after(edits_of_join(there, found, there.devices["box"]))
    (made,) = (s for s in after.streams if s.id != "feed")
    assert (made.address, made.key, made.caller, made.from_device) == (
        "srt://203.0.113.20:9000",
        "stern-lantern",
        "sender",
        "box",
    )
    assert not {f.rule for f in findings(after) if f.severity == "stops"} & {
        "not-let-in",
        "far-address",
        "far-way-out",
        "networks-apart",
    }
    # On one network: the inside address takes the place of the outside one, and nothing is called from outside.
    same = there.after([put("network", "lan", "range", "10.4.0.0/24"), put("network", "lan", "gateway", "10.4.0.1"), put_port("encoder/lan", "interface.address", "10.4.0.30"),
                        put("network", "lan", "pool_first", "10.4.0.100"), put("network", "lan", "pool_last", "10.4.0.199")])  # fmt: skip
    near = read_join(
        json.dumps(json.loads(text) | {"other_end": json.loads(text)["other_end"] | {"gateway": "10.4.0.1"}})
    )
    beside = same.after(edits_of_join(same, near, same.devices["box"]))
    (made,) = (s for s in beside.streams if s.id != "feed")
    assert made.address == "srt://10.4.0.20:9000" and not {f.rule for f in findings(beside)} & {
        "local-address",
        "networks-apart",
    }
    # Without its passphrase the file says so, and so does the plan that reads it.
    bare = read_join(write_join(FAR, FEED, FAR.devices["sender"]))
    assert bare.secret is None and bare.secret_withheld
    assert any(
        isinstance(e, Addition) and isinstance(e.item, Stream) and e.item.key_withheld
        for e in edits_of_join(there, bare, there.devices["box"])
    )


@pytest.mark.parametrize("text, said", [("{", "not JSON"), ('{"format": "humble-relay-plan"}', "not a stream's settings"),
                                        ('{"format": "humble-relay-join", "version": 3}', "newer version"), ('{"format": "humble-relay-join", "show": "S"}', "stream")])  # fmt: skip
def test_what_is_no_settings_file_is_refused_in_words(text: str, said: str) -> None:
    with pytest.raises(UnreadableJoin, match=said):
        read_join(text)
