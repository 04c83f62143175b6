"""Where a line leads: a stage, a page, a paper; or what the page does."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.plan.stages import STAGES, Stage
from humble_relay.core.views.commands.line_meaning import Action, Alternative
from humble_relay.core.views.commands.naming import Named, fits, named
from humble_relay.core.views.sheets import all_papers

_ACTIONS: dict[Action, tuple[str, tuple[str, ...]]] = {
    "undo": ("Undo the last change", ("undo", "back")),
    "redo": ("Do the undone change again", ("redo", "again")),
    "history": ("Show every change so far", ("history", "changes")),
    "keys": ("Show the keys of the page, and what can be typed here", ("help", "keys", "?", "shortcuts", "how do i start", "how does this work", "what can i type")),
    "light": ("Switch between day and night light", ("night", "day", "dark mode", "light", "night mode", "theme")),
    "findings": ("Go to the findings", ("findings", "problems", "what is wrong", "what's wrong", "does it work", "is it ok", "check")),
    "plans": ("Go to all plans, to begin or import one", ("all plans", "plans", "new plan", "new show", "import", "close", "quit", "exit", "home")),
    "glossary": ("Open the glossary", ("glossary", "terms", "words")),
    "export": ("Export the plan as a file", ("export", "export plan", "download plan", "share plan", "backup plan")),
}  # fmt: skip
"""What a page can do, with the words that mean it."""
PAGES: tuple[tuple[str, Stage, str, tuple[str, ...]], ...] = (
    ("The show", "brief", "show", ("the show", "brief show", "what must arrive")),
    ("Places", "brief", "places", ("places", "sites", "distances")),
    ("Days and requests", "brief", "days", ("days", "requests", "rehearsals", "deadlines")),
    ("To find out", "survey", "facts", ("to find out", "facts", "what is missing", "missing", "unknown", "checklist")),
    ("Measure", "survey", "measure", ("measure", "measurements", "speed test", "speedtest", "test upload", "meter", "iperf", "iperf3")),
    ("Uplinks", "survey", "uplinks", ("uplinks", "lines", "add uplink", "new uplink", "internet")),
    ("Found out", "survey", "found", ("found out", "answers")),
    ("Devices of this plan", "gear", "plan", ("devices", "gear list", "equipment")),
    ("Library", "gear", "library", ("library", "models", "catalogue", "add gear", "add device")),
    ("Devices as a table", "gear", "table", ("device table", "table of devices")),
    ("Stock", "gear", "stock", ("stock", "inventory", "shelf")),
    ("The signal map", "signal", "map", ("map", "signal map", "diagram")),
    ("Get a picture there", "signal", "finder", ("finder", "routes", "connect", "patch")),
    ("What arrives where", "signal", "arrivals", ("arrivals", "proofs", "what arrives where", "matrix")),
    ("Cables and streams", "signal", "links", ("cables", "links", "streams", "cables and streams")),
    ("Sound and canvas", "signal", "sound", ("sound", "audio", "canvas")),
    ("Stream addresses", "addresses", "streams", ("stream addresses", "urls", "stream keys", "stream key")),
    ("Networks", "addresses", "networks", ("networks", "subnets", "ranges", "add network")),
    ("Routers", "addresses", "routers", ("routers", "forwards", "port forwards", "nat", "firewall", "rules")),
    ("Devices on a network", "addresses", "devices", ("ip addresses", "ips", "ip list", "addresses of devices")),
    ("Read an address or a settings file", "addresses", "read", ("read address", "read", "paste", "settings file")),
    ("What is left today", "set-up", "today", ("set up", "setup", "ticks", "what is left")),
    ("Run sheet", "set-up", "run", ("run sheet", "order of the day", "schedule", "tasks")),
    ("Set-up list", "set-up", "list", ("set-up list", "setup list", "settings")),
    ("Destinations", "brief", "destinations", ("destinations", "publication", "events", "who watches", "chat")),
    ("Who hears whom", "signal", "comms", ("who hears whom", "comms", "talk-back", "talkback", "tally", "cues", "return feed")),
    ("Faults", "set-up", "faults", ("faults", "fault finding", "not appearing")),
    ("Call sheet", "papers", "", ("call sheet",)),
    ("Headroom", "bandwidth", "headroom", ("headroom", "upload", "total bitrate", "does it fit")),
    ("Bitrates", "bandwidth", "streams", ("bitrates", "bitrate")),
    ("The best that fits", "bandwidth", "best-fit", ("best fit", "best", "optimise", "optimize", "what fits", "allocate")),
)  # fmt: skip
_PACK = ("", "tech pack", "papers", "all", "everything", "pdf")


def pages_named(case: Case, text: str) -> Iterator[Alternative]:
    """What the page does, a stage by its name or number, and its pages."""
    plain = text.removeprefix("go to ").removeprefix("go ").removeprefix("open ").removeprefix("show ")
    for action, (title, words) in _ACTIONS.items():
        if any(word.startswith(plain) for word in words):
            yield Alternative(title=title, do=action)
    for number, stage in enumerate(STAGES, 1):
        if plain and (stage.startswith(plain) or plain == str(number)):
            yield Alternative(title=f"Open {stage.capitalize()}", go=stage)
    for title, stage, page, words in PAGES:
        if len(plain) > 2 and any(word.startswith(plain) for word in words):
            yield Alternative(title=f"Open {stage.capitalize()}: {title}", go=stage, page=page)
    if plain in ("save", "save plan"):
        yield Alternative(title="Every change is kept as it is made: there is nothing to save")


def papers_named(case: Case, text: str) -> Iterator[Alternative]:
    """`print cable schedule`: the papers of that name, or all of them."""
    verb, _, rest = text.partition(" ")
    if verb not in ("print", "pdf"):
        return
    if rest in _PACK:
        yield Alternative(title="Print the tech pack", go="papers", do="print")
        return
    for paper in all_papers(case):
        if fits(rest, paper.title):
            yield Alternative(title=f"Print: {paper.title}, on the page Papers", go="papers")
    yield Alternative(title="Print the tech pack: all papers together", go="papers", do="print")


def measuring(case: Case, text: str) -> Iterator[Alternative]:
    """`measure boathouse fibre`."""
    verb, _, rest = text.partition(" ")
    if verb in ("measure", "test", "speedtest") and rest:
        for line in named(case, rest, ("uplink",)):
            yield Alternative(
                title=f"Measure {line.name}", go="survey", page="measure", pick=f"uplink:{line.id}"
            )


def picked(case: Case, thing: Named, title: str = "") -> Alternative:
    """The thing picked, on the stage where it is typed."""
    return Alternative(title=title or f"Look at {thing.name}", pick=f"{thing.noun}:{thing.id}")
