"""The lines by which shows are planned from nothing, as somebody types them who has read nothing."""

from typing import NamedTuple


class Typed(NamedTuple):
    """A show, its lines, how its proofs end, and the strokes it takes at most."""

    name: str
    lines: tuple[str, ...]
    state: str
    most: int
    after: str = ""
    """The show that it is begun from."""


WHEN = ("start 12 Dec 2026 19:00", "ends 20:00")

SHOWS = [
    Typed("Guest phone", (
        *WHEN, "1080p30", "add site studio with fibre", "add site kitchen", "need program on platform Alder with sound",
        "add phone at kitchen", "add laptop with streaming at studio", "? phone to latop by wire 3 km", "phone to laptop => Browser", "laptop to alder => RTMPS",
        "measure Studio fibre 1", "measure Mobile data of Phone 1", "know How much data has the card: 20", "alder host ingest.alder.example",
        "know Which link does the sender: https://calls.cedar.example/in", "know Which link does the viewing side: https://calls.cedar.example/view",
        "laptop to alder key alder-key",
    ), "proven", 23),
    Typed("Capture box", (
        *WHEN, "? 720p31", "720p30", "add site hall with dsl", "need program on platform alder, with sound", "add compact camera at hall",
        "add field camera at hall", "add sound desk at hall", "add desk capture at hall", "add laptop with streaming at hall",
        "compact camera to desk capture", "field camera to desk capture", "sound desk to desk capture", "desk capture to laptop", "laptop to alder",
        "measure Hall DSL 0.21", "hall has mains", "alder host ingest.alder.example", "laptop to alder key alder-key",
    ), "doubtful", 27),
    Typed("Wireless in a concert behind a wall", (
        "start 12 Dec 2026 19:00", "ends 22:00", "add site hall with fibre", "add place stage", "hall to stage 30 m", "wall of plasterboard between hall and stage",
        "need program on platform alder without sound", "add eight switcher at hall", "add streaming encoder at hall", "3 field cameras at stage",
        "? add clear air reciever at hall", "add clear air receiver at hall", "add clear air transmitter at stage", "field camera to switcher => SDI", "field camera 2 to switcher => SDI",
        "field camera 3 to switcher => radio", "switcher to streaming encoder => SDI", "streaming encoder to alder",
        "measure Hall fibre 1", "hall has mains", "stage has mains", "know Did Clear air transmitter: yes", "alder host ingest.alder.example", "streaming encoder to alder key alder-key",
    ), "doubtful", 30),
    Typed("Three platforms", (
        *WHEN, "need program on platform alder no sound", "need program on platform birch no sound", "need program on vertical platform cedar without audio",
        "add site hall with fibre", "add field camera at hall", "add eight switcher at hall", "add quad encoder at hall", "add upright encoder at hall",
        "field camera to switcher", "switcher to quad encoder => SDI", "switcher to upright encoder => HDMI", "quad encoder to alder => RTMPS stream, Cloud relay",
        "cloud relay to birch => RTMPS", "? upright encoder to dogwood", "upright encodr to cedar", "measure Hall fibre 0.85", "hall has mains",
        "alder host ingest.alder.example", "birch host ingest.birch.example", "cedar host ingest.cedar.example", "cloud relay host in.millrace.example",
        "quad encoder to cloud relay key a", "cloud relay to alder key b", "cloud relay to birch key c", "upright encoder to cedar key d",
    ), "doubtful", 36),
    Typed("A vehicle with three modems", (
        *WHEN, "add site road with wifi", "add compact camera at road", "need compact camera on platform alder, no sound", "add field encoder at road",
        "add bonding gateway", "? compact camera to bonding gatway by magic", "compact camera to field encoder", "add 3 modems of fenside and marram to field encoder",
        "field encoder to alder => Bonding gateway",
        "measure Field encoder modem 0.3", "measure Field encoder modem 2 0.3", "measure Field encoder modem 3 0.3", "alder host ingest.alder.example",
        "bonding gateway to alder key alder-key", "bonding gateway host in.eelgrass.example", "bonding gateway port 5000", "know How long does the gateway: 500", "know How much data has the card of Field encoder modem?: 20",
        "know How much data has the card of Field encoder modem 2: 20", "know How much data has the card of Field encoder modem 3: 20",
    ), "doubtful", 29),
    Typed("Action camera through a server", (
        *WHEN, "1080p30", "need program on platform alder with sound", "add site boathouse with fibre", "add place jetty", "add eight switcher at boathouse",
        "add network switch at boathouse", "add action camera at jetty", "action camera to eight switcher => RTMP stream, Stream server",
        "eight switcher to alder => RTMPS", "measure Boathouse fibre 1", "boathouse has mains", "alder host ingest.alder.example",
        "? boathouse network 192.168.8", "boathouse network 192.168.8.0/24", "stream server 192.168.8.21", "know Did Pebble action camera: yes", "eight switcher to alder key alder-key",
    ), "doubtful", 26),
    Typed("Two network ports and a phone", (
        *WHEN, "add site club with fibre", "need program on platform alder no sound", "need program on platform birch no sound",
        "add field camera at club", "add eight switcher at club", "add quad encoder at club", "add router at club",
        "field camera to eight switcher", "eight switcher to quad encoder", "quad encoder to alder", "? quad encoder to unicorn", "quad encoder to birch",
        "add phone as backup at club", "measure Club fibre 1.5", "measure Backup phone, Club 0.6", "club has mains", "know Pull the cable of Club fibre: 20", "know How much data has the card: 20",
        "alder host ingest.alder.example", "birch host ingest.birch.example", "quad encoder to alder key a", "quad encoder to birch key b",
    ), "doubtful", 31),
    Typed("A hall whose network others run", (
        *WHEN, "add site hall with fibre", "hall run by venue", "add field camera at hall", "need field camera on platform alder no sound", "add streaming encoder at hall",
        "field camera to streeming encoder", "streaming encoder to alder", "measure Hall fibre 1", "? hall has manes", "hall has mains", "alder host ingest.alder.example",
        "streaming encoder to alder key alder-key", "know What does Hall fibre let out: everything", "? print network request", "? export",
    ), "proven", 22),
    Typed("Four IP cameras and an overflow room", (
        *WHEN, "1080p25", "add site school with fibre", "add site town with dsl", "add place yard", "add place gym", "yard indoors no",
        "add production computer at school", "need program on platform alder no sound", "need program on screen gym screen at gym, no sound",
        "add poe network switch at school", "3 pole ip cameras at school", "add pole ip camera at yard", "add ndi decoder at gym",
        "add streaming encoder at town", "add compact camera at town",
        *(line for n in ("", " 2", " 3", " 4") for line in (f"pole ip camera{n} to production => RTSP", f"pole ip camera{n} 192.168.4.{21 + int(n or 0)}")),
        "compact camera to streaming => HDMI", "streaming to production => SRT", "production to ndi => NDI stream", "ndi to gym screen => HDMI",
        "production to alder => RTMPS", "school has mains", "town has mains", "gym has mains", "yard has mains", "? yard to schol", "yard to school 40", "gym to school 40",
        "school network 192.168.4.0/24", "alder host ingest.alder.example", "production reserved 192.168.4.20", "school fibre public",
        "forward 9000 to production", "production to alder key alder-key", "streaming to production key lantern-school",
        "streaming to production address srt://203.0.113.7:9000", "measure School fibre 1", "measure Town DSL 0.6",
        "know Which path has the main stream: /main", "know want a user and a password: no, nobody is asked",
    ), "doubtful", 65),
    Typed("The next month", (
        "? start 9 Jan 7 pm", "start 9 Jan 2027 19:00", "ends 20:00", "laptop to alder key new-key", "measure Hall DSL 0.3",
    ), "doubtful", 6, "Capture box"),
]  # fmt: skip
