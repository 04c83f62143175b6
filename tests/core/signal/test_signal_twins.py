"""Twins of signal: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan.edits import (
    Remove,
    added,
)
from tests.build import (
    hd,
    put,
    put_port,
)
from tests.core.twins import SECOND, SMALL, UPRIGHT, Twin, again, fmt, hold, named
from tests.shows import WALL, recabled, wire

RELAYED = [
    added(from_library("relay-cloud", "relay", None, "Relay")), put("device", "relay", "ingest.host", "in.relay.example"), put("device", "relay", "ingest.app", "live"),
    put("link", "feed", "to_device", "relay"), put("link", "feed", "address", ""), again("on", from_device="relay"),
]

TWINS = [
    # Cables.
    # Coax: relied on to 91 m at 3 Gb/s, hopeless beyond half as much again; 100 m and more want couplers.
    Twin("plain", [put("link", "run", "length_m", 91.1)], "cable-too-long:run risks", "relied on is 91 m", "Run it another way"),
    Twin("plain", [put("link", "run", "length_m", 136.5), put("link", "run", "repeaters", 0)], "cable-too-long:run risks, couplers-in-the-run:run note", "relied on is 91 m", "Run it"),
    Twin("plain", [put("link", "run", "length_m", 136.6)], "cable-too-long:run stops, couplers-in-the-run:run note", "it carries 91 m", "Run it another way"),
    Twin("plain", [put("link", "run", "length_m", 85), put("link", "run", "joints", 3)], "cable-too-long:run risks", "relied on is 82 m", "Run it"),
    Twin("plain", [put("device", "camera", "place", "boathouse"), put("link", "run", "cable", "hdmi"), put("link", "run", "length_m", 5)],
         "connector-mismatch:run:camera-sdi stops, connector-mismatch:run:encoder-sdi stops", "an HDMI cable does not go in", "Run it"),
    Twin("mixed", [put_port("switcher/in-4", "assigned", "hdmi")], "connector-mismatch:run:switcher-in-4 stops", "SDI coax cable does not go in", "Run it another way: SDI coax 40 m to Input 1"),
    Twin("asked", [put_port("camera/sdi", "way", "in")], "cable-against-the-signal:run stops, aim-not-met:alder stops", "from an input to an input"),
    Twin("asked", [put("link", "run", "broken", True)], "run-broken:run stops, aim-not-met:alder stops, source-goes-nowhere:camera risks",
         "marked as broken", "It is mended"),
    Twin("plain", [put("link", "run", "cable", "fibre"), put_port("camera/sdi", "types", ["fibre"]),
                   put_port("encoder/sdi", "types", ["fibre"]), put("link", "run", "length_m", 301)],
         "couplers-in-the-run:run note", "stock cables need 1 coupler", "Count 1 coupler"),
    Twin("call", [put("device", "phone", "produces", {"width": 1080, "height": 1920, "rate": "25"})], "source-turned:call:turn risks",
         "Phone sends 1080 × 1920, and the source for Call is 1920 × 1080", "Turn Phone"),
    Twin("desk", [Remove(noun="link", id="desk-out-switcher-sound")], "desk-goes-nowhere:desk:line risks", "goes into no device"),
    Twin("mixed", [*WALL, put("device", "switcher", "produces", None), *recabled("switcher/in-1"), added(from_library("camera-field", "second", "boathouse", "Second")), put("device", "second", "produces", fmt("59.94")),
                   wire("second/sdi", "switcher/in-2", "coax", 2)], "no-system-format:switcher:system stops", "1080p50 at Input 1 and 1080p59.94 at Input 2, on inputs that do not scale"),
    # An injector starts no new 100 m (IEEE 802.3 clause 33): 60 m and 70 m are one channel of 130 m, past 125 m hopeless.
    Twin("pole", [added(from_library("injector", "injector", "slipway", "Injector")), Remove(noun="link", id="hide-lan-net-lan-1"), wire("hide/lan", "injector/poe", "ethernet", 60),
                  wire("injector/lan", "net/lan-1", "ethernet", 70)], "cable-too-long:hide-lan-injector-poe stops", "behind the injector, which starts no new run, is 130 m"),
    Twin("laptop", [Remove(noun="device", id="wall")], "nobody-sees:switcher:seen risks", "Nobody sees what comes into Switcher"),
    Twin("plain", [put("show", None, "record", True), put("device", "camera", "recording", {"records": False}), put("device", "encoder", "recording", {"records": False})],
         "nothing-records:show:recorded stops", "nothing records it."),
    Twin("plain", [put("show", None, "record", True)], "nothing-records:show:recorded risks", "Whether Camera records, nobody said"),
    Twin("plain", [put("link", "feed", "format", fmt("30"))], "stream-rate:feed:rate risks, other-than-the-brief:feed note", "gets 50 frames/s, and Feed sends 30"),
    Twin("plain", [*RELAYED, put("link", "on", "format", fmt("30"))], "stream-rate:on:rate risks, other-than-the-brief:on note", "Relay gets 50 frames/s, and On sends 30"),
    Twin("pole", [put("link", "watch", "codec", "hevc"), put("device", "hide", "encoding.codecs", ["hevc"]), put("device", "decoder", "decoding.codecs", ["h264"])],
         "not-decoded:watch:decoded stops", "decodes H.264, and it is HEVC"),
    Twin("pole", [put("device", "decoder", "decoding.accepts", {"rasters": ["1280x720"]})], "not-decoded:watch:decoded stops", "takes 1280x720, not 1920x1080"),
    Twin("pole", [put("link", "watch", "bit_depth", 10), put("device", "decoder", "decoding.bit_depth", 8)], "not-decoded:watch:decoded stops", "decodes 8 bits a sample, and it has 10"),
    Twin("plain", [put_port("encoder/sdi", "max_gbps", 1.485)], "serial-rate-too-high:run:encoder-sdi stops", "needs 2.97 Gb/s", "Run it"),
    Twin("usb", [put("link", "capture-usb-laptop-usb-1", "cable", "usb2")], "usb-too-much:capture-usb-laptop-usb-1 stops", "it takes 0.1966 Gb/s", "Run it another way: SDI coax 42 m, Capture, USB 3 2 m"),
    # 8K at 50 frames/s is 10560 × 4500 × 50 × 20 bit = 47.5 Gb/s (SMPTE ST 2036-1); 12G is the fastest link.
    Twin("plain", [put("device", "camera", "produces", {"width": 7680, "height": 4320, "rate": "50"}), put_port("encoder/sdi", "accepts", None), put_port("encoder/sdi", "scales", True)],
         "no-serial-format:run stops", "needs 47.5 Gb/s"),
    Twin("plain", [put("device", "camera", "produces", {"width": 1920, "height": 1200, "rate": "50"}), put_port("encoder/sdi", "accepts", None)],
         "no-serial-format:run risks", "no serial standard has that raster", "Run it another way: HDMI 2 m, Cross-scaler"),
    # A copper channel is promised with four connections (TIA-568, ISO/IEC 11801).
    Twin("plain", [added(from_library("switch-plain", "net", "boathouse", "Net")), wire("encoder/lan", "net/lan-1", "ethernet", 20, "lead"),
                   put("link", "lead", "joints", 5)], "too-many-connections:lead risks", "is joined 5 times"),
    # Ports.
    Twin("plain", [put_port("encoder/sdi", "types", ["sdi", "hdmi"])], "input-undecided:encoder:sdi stops", "may be sdi or hdmi", "Assign it to sdi"),
    Twin("networked", [added(from_library("encoder-paired", "more", "boathouse", "More")), put_port("more/lan", "interface.network", "lan"),
                       again("again", from_device="more", to_device="switcher", protocol="paired", input="in-7"), SECOND,
                       wire("second/hdmi", "more/in", "hdmi", 2), put_port("more/in", "assigned", "hdmi")],
         "input-contested:switcher:in-7 stops", "gives it 2: Roving feed and Again"),
    Twin("plain", [SECOND, wire("second/hdmi", "encoder/hdmi", "hdmi", 2)], "group-contested:encoder:sdi stops", "takes 1 at once"),
    Twin("networked", [put("link", "wire-free", "input", None)], "network-input-dark:wire-free stops, source-goes-nowhere:roving risks",
         "assigned to no input", "Show it on"),
    Twin("networked", [put_port("switcher/in-7", "assigned", "hdmi")], "network-input-dark:wire-free stops, source-goes-nowhere:roving risks",
         "which is set to HDMI", "Show it on"),
    Twin("plain", [put_port("encoder/sdi", "max_gbps", 11.88), put_port("camera/sdi", "max_gbps", 11.88), put("device", "camera", "produces", fmt("50", 2160))],
         "format-refused:encoder:sdi stops", "gets 2160p50", "Set Camera to 1080p50"),
    # 59.94 is not 60 and not 50: an input that follows the system format stays black (SMPTE ST 274).
    Twin("mixed", [*recabled("switcher/in-1"), put("device", "camera", "produces", fmt("59.94"))],
         "format-refused:switcher:in-1 stops", "follows the system format, 1080p50", "Set Camera"),
    Twin("mixed", [put("device", "camera", "produces", fmt("59.94"))], "rate-converted:switcher:in-4 note", "makes 50 of it", "Set Camera"),
    Twin("laptop", [put_port("slides/hdmi", "protected", True)], "protected-picture:switcher:in-8 stops", "stays black on it", "Turn it off"),
    Twin("laptop", [put_port("slides/hdmi", "levels", "full")], "levels-differ:switcher:in-8 risks", "sends full colour range", "Set the output"),
    Twin("plain", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi", length=5), put_port("camera/hdmi", "overlay", "on")],
         "overlay-left-on:camera:hdmi risks", "goes to Encoder", "The overlay is off"),
    # Round and round.
    Twin("mixed", [put_port("encoder/sdi", "types", ["sdi"]), added(from_library("distribution-sdi", "split", "boathouse", "Split")),
                   Remove(noun="link", id="switcher-program-encoder-sdi"), wire("switcher/program", "split/in", "coax", 2), wire("split/out-1", "encoder/sdi", "coax", 2),
                   wire("split/out-2", "switcher/in-1", "coax", 2, "back")], "fed-back:back note, nobody-sees:switcher:seen risks", "brings Switcher its own picture back"),
    Twin("mixed", [Remove(noun="link", id="switcher-program-encoder-sdi"), put_port("encoder/hdmi", "group", None), wire("switcher/multi", "encoder/hdmi", "hdmi", 2)],
         "multi-view-published:feed stops", "carries the multi-view of Switcher", "Put the program on"),
    # Who gets a picture.
    Twin("plain", [added(from_library("laptop-slides", "slides", "boathouse", "Slides"))], "source-goes-nowhere:slides risks", "Slides reaches no"),
    Twin("plain", [added(from_library("monitor", "screen", "boathouse", "Screen"))], "screen-gets-nothing:screen risks", "Screen gets no picture"),
    Twin("asked", [Remove(noun="link", id="feed")], "aim-not-met:alder stops, source-goes-nowhere:camera risks", "Alder gets no picture"),
    Twin("asked", [put("aim", "alder", "picture", "multi-view")], "aim-not-met:alder stops", "gets the picture of Camera", "Ask for the picture of Camera"),
    Twin("asked", [put("aim", "alder", "picture", "clean"), put("aim", "alder", "need", "wished")], "aim-not-met:alder risks", "is to get the clean", "Ask for the picture of Camera"),
    # Sound.
    Twin("desk", [put("device", "camera", "microphone.muted", False)], "microphone-open:camera:switcher risks", "Desk is the sound at Switcher", "Mute Camera"),
    Twin("desk", [put_port("switcher/sound", "both_sides", False)], "mono-one-side:switcher:sound risks", "on one side only", "Put it on both"),
    # Streams, radio, firmware.
    Twin("paired", [put("device", "decoder", "pairing.family", "Teasel Burr")], "families-differ:feed-2 stops", "do not understand each other", "Run it another way: SDI"),
    Twin("air", [put("device", "rx", "pairing.family", "Teasel Hop")], "families-differ:air stops", "do not understand each other", "Run it another way: SDI"),
    Twin("paired", [put("device", "decoder", "decoding.protocols", ["ndi"])], "protocol-not-taken:feed-2 stops", "takes NDI; Feed 2 is Paired"),
    Twin("paired", [put("device", "decoder", "decoding", None)], "protocol-not-taken:feed-2 stops", "takes no streams"),
    Twin("paired", [added(from_library("encoder-paired", "more", "boathouse", "More")), SECOND, wire("second/hdmi", "more/in", "hdmi", 2),
                    put_port("more/in", "assigned", "hdmi"), put_port("more/lan", "interface.network", "lan"), again("again", from_device="more", to_device="decoder", protocol="paired")],
         "too-many-decoded:decoder stops", "takes 1 stream at once; the plan sends it 2"),
    Twin("networked", [put("device", "switcher", "software.firmware", "2.7")], "firmware-too-old:switcher:network-input stops", "needs 2.8", "It has been updated"),
    Twin("plain", [put("device", "encoder", "encoding.destinations", 2), put("link", "feed", "video_mbps", 6), again("other", format=SMALL, video_mbps=5)],
         "too-many-pictures:encoder:channels stops, other-than-the-brief:other note", "encodes 1 picture at once; its streams ask for 2", "Send all the picture of Feed"),
    Twin("plain", [put("device", "alder", "ingest.accepts", {"rasters": []}), put("link", "feed", "layout", "fit"), put("link", "feed", "format", UPRIGHT)],
         "canvas-not-composed:feed stops", "cannot compose a vertical canvas"),
    # (9/16)² of the width is 31.6 % (arithmetic).
    Twin("plain", [put("device", "alder", "ingest.accepts", {"rasters": []}), put("device", "encoder", "encoding.vertical", True), put("link", "feed", "format", UPRIGHT)],
         "canvas-undecided:feed risks", "does not say how 1080p50 sits", "Shrink it whole"),
    # The line, and the day.
    Twin("asked", [Remove(noun="link", id="run")], "nothing-plugged-in:encoder:in stops, aim-not-met:alder stops, source-goes-nowhere:camera risks", "to hand a picture on to Alder", "Bring it from Camera, by SDI coax"),
    Twin("plain", [put("show", None, "format", hd("60").model_dump(mode="json"))], "other-than-the-brief:feed note", "sends 1080p50, and the brief says 1080p60", ""),
    Twin("fibre", [put("device", "rx", "pairing.family", "Teasel Optic H")], "families-differ:glass stops", "do not understand each other", "Run it another way"),
    Twin("asked", [put("aim", "alder", "lowest", hd("60").model_dump(mode="json"))], "below-the-lowest:alder:picture stops", "at least 1080p60 was asked for", "Send 1080p60"),
    Twin("asked", [put("aim", "alder", "sound", True)], "sound-not-there:alder:sound stops", "every microphone is muted", "Open the microphone of Camera"),
    # Ports: 2160p50 is 17.82 Gb/s on HDMI (CTA-861: 594 MHz × 30), every port takes 165 MHz; 4:2:0 halves it.
    Twin("call", [put("device", "laptop", "produces", fmt("50", 2160)), put_port("laptop/hdmi", "max_gbps", 18), put_port("screen/hdmi", "max_gbps", 10.2)],
         "port-too-slow:laptop-hdmi-screen-hdmi:screen-hdmi risks", "relied on up to 10.2 Gb/s"),
    Twin("call", [put("device", "laptop", "produces", fmt("50", 2160)), put_port("laptop/hdmi", "max_gbps", 18), put_port("screen/hdmi", "max_gbps", 8.9)],
         "port-too-slow:laptop-hdmi-screen-hdmi:screen-hdmi stops", "needs 17.82 Gb/s"),
    Twin("usb", [added(from_library("capture-sdi", "second", "boathouse", "Second box")), added(from_library("camera-studio", "studio", "boathouse", "Studio")),
                 *(put("device", d, "produces", fmt("60")) for d in ("studio", "camera")), put("link", "feed", "format", fmt("60")), put("device", "laptop", "produces", fmt("60")),
                 put("show", None, "format", fmt("60")), put("device", "alder", "ingest.accepts", {"rasters": []}), wire("studio/sdi", "second/sdi", "coax", 2), wire("second/usb", "laptop/usb-2", "usb3", 2)],
         "usb-bus-shared:laptop:usb risks", "3.98 Gb/s together; one controller takes 3.2 Gb/s"),
    Twin("plain", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi-active", length=16), put("link", "run", "rated_m", 15)],
         "cable-too-long:run risks", "relied on is 15 m", "Run it another way"),
    Twin("plain", [put("device", "camera", "place", "boathouse"), *recabled("encoder/hdmi", out="camera/hdmi", cable="hdmi-optical", length=23), put("link", "run", "rated_m", 15)],
         "cable-too-long:run stops", "it carries 15 m", "Run it another way"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
