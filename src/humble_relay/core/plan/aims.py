"""What must arrive: the pictures that were ordered."""

from typing import Annotated, Literal

from pydantic import Field

from humble_relay.core.frozen import Frozen, Slug, When
from humble_relay.core.plan.nouns import RefersTo
from humble_relay.core.plan.video import VideoFormat

AimedPicture = Literal["source", "program", "multi-view", "clean"]
"""Which picture: one source's own, or one of a switcher's."""
Liveness = Literal["talked-back", "cut", "watched"]
"""How live it must be: talked back to, cut with others, or only watched."""


class Aim(Frozen):
    """A picture that must arrive at an end."""

    id: Slug
    picture: AimedPicture = "program"
    of: Annotated[Slug | None, RefersTo("device", "goes too")] = None
    """The device whose picture it is; None: whichever makes a picture of that kind."""
    end: Annotated[Slug, RefersTo("device", "goes too")]
    """The platform, screen, recorder or remote guest's box where it must arrive."""
    need: Literal["needed", "wished"] = "needed"
    priority: Annotated[int, Field(ge=1, le=100)] = 1
    """1 is what must hold when not everything can."""
    lowest: VideoFormat | None = None
    """The smallest picture that will do; None where anything that shows will."""
    sound: bool | None = None
    """Whether it must arrive with sound; None where nobody has said."""
    liveness: Liveness = "watched"
    longest_delay_ms: Annotated[float, Field(ge=0, le=600_000)] | None = None
    from_at: When | None = None
    until_at: When | None = None
    """From when until when; None: from the start of the show, to its end."""
