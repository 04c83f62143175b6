"""Who sees and hears whom beside the program: control pages, tally, talk-back, cues, return feeds."""

from typing import Annotated, Literal

from humble_relay.core.frozen import Frozen, Label, Slug
from humble_relay.core.plan.nouns import RefersTo

CommsKind = Literal["control", "tally", "camera-control", "talk-back", "cues", "return", "inputs"]
"""What it is for: a control page, tally, camera control, talk-back, cues one way, a return feed, or a look at the inputs."""
COMMS_KIND: dict[CommsKind, str] = {
    "control": "control page", "tally": "tally", "camera-control": "camera control", "talk-back": "talk-back", "cues": "cues",
    "return": "return feed", "inputs": "look at the inputs",
}  # fmt: skip
"""What each is called."""
CommsMeans = Literal["link", "network", "usb", "telephone", "in-person"]
"""By a link of the plan, over the network, by a USB lead, by telephone, or within earshot."""


class CommsLink(Frozen):
    """One line between two devices and the people at them. No password is in it: only whose it is."""

    id: Slug
    kind: CommsKind
    from_device: Annotated[Slug, RefersTo("device", "goes too")]
    """Where it begins: who speaks, the switcher whose tally it is, the device whose control page it is."""
    to_device: Annotated[Slug, RefersTo("device", "goes too")]
    """Where it ends: who hears, the camera that shows the tally, the computer that opens the page."""
    means: CommsMeans | None = None
    link: Annotated[Slug | None, RefersTo("link", "cleared")] = None
    """The link that carries it."""
    minus: bool | None = None
    """Of a return feed: whether who hears it is left out of it (mix-minus); None where nobody said."""
    who: Label = ""
    """Who is at the end, by role."""
    telephone: Label = ""
    """The number to call; it stands on the call sheet."""
    password_by: Label = ""
    """Who has the password, by role."""
