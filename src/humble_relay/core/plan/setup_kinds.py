"""What has to be true of a device before it works, and is true only once it was seen to: the kinds, with what practice knows of each."""

from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from humble_relay.core.frozen import Frozen, Text

SetupKind = Literal[
    "charged",
    "clock",
    "card",
    "firmware",
    "password",
    "remote-admin",
    "login",
    "event",
    "named",
    "orientation",
    "system-format",
    "network",
    "input-on",
    "input-type",
    "assigned",
    "carries",
    "output-mode",
    "output-format",
    "menus-off",
    "mirrored",
    "muted",
    "sound-level",
    "lens",
    "guest-link",
    "stream-on",
    "server-on",
    "profile",
    "settings-file",
    "substream",
    "credentials",
    "firewall",
    "source-size",
    "source-reloads",
    "capture-picked",
    "layout",
    "paired",
    "bonding",
    "tethering",
    "bluetooth-off",
    "stabilisation",
    "comes-back",
]
SettingLoss = Literal["power-off", "reconnecting", "new-day", "firmware", "reset", "mode", "away"]
"""What makes a setting that was right wrong again."""
ShownBy = Literal["picture", "reading", "nothing"]
"""What shows that it is right: the picture downstream, reading the device, or nothing."""
SettingLosses = Annotated[tuple[SettingLoss, ...], Field(max_length=7)]
_STAYS: SettingLosses = ("firmware", "reset")
_UNTIL_OFF: SettingLosses = ("power-off", "firmware", "reset")


class Practice(NamedTuple):
    """What is known of a kind of setting (common practice, no source): in short; where it is set; what is seen when it is right; minutes; what
    shows it; what loses it; the kinds on the same device that come before it."""

    short: str
    where: str
    seen: str
    minutes: float
    shown_by: ShownBy
    lost_by: SettingLosses = _STAYS
    after: tuple[SetupKind, ...] = ()


PRACTICE: dict[SetupKind, Practice] = {
    "charged": Practice("Charged", "on the charger, the day before", "full on its gauge; most kits show nothing while they charge", 1, "nothing", ("new-day",)),
    "clock": Practice("Date and time", "set-up menu", "today's date, the time of the show's zone", 1, "nothing", ("power-off", "new-day", "reset")),
    "card": Practice("Card formatted in the device", "storage menu", "empty, and the hours left are more than the show", 2, "nothing", ("new-day",)),
    "firmware": Practice("Firmware", "set-up menu", "the version that the feature needs, or a newer one", 10, "reading", ("reset",)),
    "password": Practice("Password set", "web page", "it asks for one, and not for the one it came with", 2, "nothing"),
    "remote-admin": Practice("Remote administration limited", "web page", "another network does not get its page", 2, "nothing"),
    "login": Practice("Account active, login tried", "the service's page, in a browser", "signed in, with the second factor at hand; the subscription is paid", 3, "nothing", ("new-day",)),
    "event": Practice("Event chosen", "the service's page", "the scheduled event, its title, public or private", 3, "reading", ("new-day",)),
    "named": Practice("Named after its room", "web page", "its name in the sender's list; that takes a while", 1, "reading"),
    "orientation": Practice("Orientation of the event", "the service's page, when it is made", "vertical or horizontal, as it is sent: it cannot be changed later", 1, "reading"),
    "system-format": Practice("System format", "set-up menu", "the show's raster and frame rate", 1, "reading"),
    "network": Practice("Network address", "network menu", "the address of the plan, and the gateway answers", 3, "picture"),
    "input-on": Practice("Input enabled", "input menu", "its tile on the multi-view is not off", 1, "picture"),
    "input-type": Practice("Input type", "input menu", "the socket that is used is named", 1, "picture", after=("input-on",)),
    "assigned": Practice("Source assigned to the input", "input menu", "its name under the input", 1, "picture", after=("input-on", "network")),
    "carries": Practice("Output set", "output menu", "the picture that is meant: program, multi-view or clean", 1, "picture"),
    "output-mode": Practice("Output mode", "video menu", "the whole picture, and not the menu or a gallery", 1, "picture"),
    "output-format": Practice("Output format", "video menu", "the screen shows a picture: a format it does not take stays dark", 1, "picture"),
    "menus-off": Practice("Menus and marks off the output", "video menu", "nothing but the picture", 1, "picture"),
    "mirrored": Practice("Screen mirrored or extended", "display settings", "the hall sees what it is meant to see", 1, "picture", ("reconnecting", "power-off")),
    "muted": Practice("Own microphone muted", "sound menu", "its meter lies still", 1, "reading", _UNTIL_OFF),
    "sound-level": Practice("Sound at line level, both sides", "sound menu", "the meter moves on both sides, and not into the red", 8, "reading", ("mode", "reset")),
    "lens": Practice("Browser, lens and orientation of the phone", "on the phone", "a browser that hands over the camera; the lens that is meant; horizontal or vertical as planned", 2, "picture", ("power-off", "reconnecting")),
    "guest-link": Practice("The link that sends is open", "on the phone", "camera and microphone allowed, and its own picture on the page", 2, "picture", ("power-off", "reconnecting")),
    "stream-on": Practice("Stream switched on", "network menu", "a player on another device shows it", 2, "picture", after=("network",)),
    "server-on": Practice("Server running", "on the laptop", "a player on the same laptop shows what is sent to it", 3, "picture", _UNTIL_OFF, ("network", "firewall")),
    "profile": Practice("Destination profile filled and chosen", "stream menu", "address and key are today's, and no older profile is chosen", 5, "picture", after=("network",)),
    "settings-file": Practice("Settings file taken over", "stream menu", "the name of the other end in its list", 3, "picture", after=("network",)),
    "substream": Practice("Main stream or substream", "the address that is typed", "the raster that was planned", 1, "picture"),
    "credentials": Practice("User and password, or none", "the address that is typed", "it is not refused", 1, "picture"),
    "firewall": Practice("Firewall lets it in", "security settings", "the caller gets through from another device", 2, "picture"),
    "source-size": Practice("Size of the browser source", "in the software", "as wide and high as what is sent", 1, "picture"),
    "source-reloads": Practice("Source reloads with its scene; its sound is routed", "in the software", "it moves again when the scene is left and opened, and is heard", 1, "reading", ("mode", "reset")),
    "capture-picked": Practice("Camera and sound device of the software", "in the software", "the box by name, for both: the built-in ones look nearly right", 2, "reading", ("reconnecting", "mode", "reset")),
    "layout": Practice("Layout loaded", "canvas or layout menu", "the picture where it belongs, the graphic on its layer", 3, "picture"),
    "paired": Practice("Channel scanned, kit paired", "on both halves", "link quality, format and battery on its panel", 10, "picture", ("firmware", "reset", "mode")),
    "bonding": Practice("Bonding switched on", "connection menu", "each modem contributes, and the unit is online at its service", 2, "reading", ("mode", "firmware", "reset")),
    "tethering": Practice("Tethering on, after plugging in", "on the phone", "its icon, and an address of another network", 2, "reading", ("reconnecting", "power-off")),
    "bluetooth-off": Practice("Bluetooth off", "connection menu", "no other device is paired with it", 1, "reading"),
    "stabilisation": Practice("Stabilisation", "picture menu", "off, where its delay matters", 1, "reading", ("mode", "reset")),
    "comes-back": Practice("Comes back by itself", "power taken away once", "picture again within minutes, with nobody near", 4, "nothing"),
}  # fmt: skip


class SetupDifference(Frozen):
    """How one model, or one device, differs from what practice knows of a kind: what is left out is as there."""

    kind: SetupKind
    asked: bool = True
    """False: of this one it is not asked."""
    where: Text = ""
    seen: Text = ""
    minutes: Annotated[float, Field(gt=0, le=600)] | None = None
    shown_by: ShownBy | None = None
    lost_by: SettingLosses | None = None
