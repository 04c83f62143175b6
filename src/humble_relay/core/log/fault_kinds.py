"""What a fault looks like, and what was tried: the words of fault finding."""

from typing import Annotated, Literal

from pydantic import StringConstraints

Symptom = Literal[
    "black",
    "no-source",
    "listed-but-dark",
    "frozen",
    "wrong-picture",
    "not-supported",
    "sparkles",
    "wrong-shape",
    "stutters",
    "drops",
    "refused",
    "times-out",
    "wrong-password",
    "already-live",
    "not-with-others",
    "viewers-nothing",
    "one-of-several",
    "stops-after",
    "no-sound",
    "wrong-sound",
    "late-sound",
    "hum",
    "echo",
    "crackle",
    "distorted",
    "one-side",
]
"""What is seen or heard in place of the picture and its sound."""
SYMPTOMS: dict[Symptom, str] = {
    "black": "black", "no-source": "\"no source\"", "listed-but-dark": "in the list, but dark", "frozen": "frozen",
    "wrong-picture": "a wrong picture: webcam, bars, another camera", "not-supported": "\"format not supported\"", "sparkles": "sparkles or flicker",
    "wrong-shape": "wrong shape", "stutters": "stutters", "drops": "connects and drops", "refused": "refused at once", "times-out": "times out",
    "wrong-password": "\"wrong password\"", "already-live": "\"already live\"", "not-with-others": "works alone, not with a second",
    "viewers-nothing": "live at the desk, viewers see nothing", "one-of-several": "one destination of several is missing", "stops-after": "stops after some minutes",
    "no-sound": "no sound", "wrong-sound": "wrong sound", "late-sound": "sound out of step", "hum": "hum", "echo": "echo", "crackle": "crackle",
    "distorted": "distorted sound", "one-side": "sound on one side",
}  # fmt: skip
SOUND: tuple[Symptom, ...] = (
    "no-sound",
    "wrong-sound",
    "late-sound",
    "hum",
    "echo",
    "crackle",
    "distorted",
    "one-side",
)
Came = Literal["never", "stopped"]
"""The picture never came, or was there and stopped."""
Spread = Literal["this", "device", "network"]
"""Only this picture; everything of one device; everything of one network switch or uplink."""
FaultAnswer = Literal["good", "bad", "cannot-tell"]
FaultTestId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9:/.-]+$", max_length=240)]
"""Of a test, or of a cause."""
