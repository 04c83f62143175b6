"""Whether what arrives is good enough for what was asked: its picture, and its sound."""

from humble_relay.core.judging.answer import HOLDS, On, Thing, Verdict, Words, fails, waits
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.plan import Aim
from humble_relay.core.plan.video import VideoFormat, frames_per_second
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.sound import sounds
from humble_relay.core.signal.ports.coverage import meets

WITH_A_LOWEST: Asked[tuple[Aim, VideoFormat]] = Asked(
    "aim that names the lowest picture",
    lambda case: ((Thing("aim", a.id, "picture"), (a, a.lowest)) for a in case.plan.aims if a.lowest),
)
WITH_SOUND: Asked[Aim] = Asked(
    "aim that asks for sound",
    lambda case: ((Thing("aim", a.id, "sound"), a) for a in case.plan.aims if a.sound),
)


def _not_there(aim: Aim) -> Verdict:
    return waits(On("aim-not-met", Thing("aim", aim.id)))


@check(
    "below-the-lowest", WITH_A_LOWEST, "signal", "Is the picture that arrives at least the lowest that will do?",
    "whoever asked for it",
)  # fmt: skip
def below_the_lowest(case: Case, what: tuple[Aim, VideoFormat]) -> Verdict:
    """Whether a picture arrives with as many pixels each way, and as many frames a second, as the aim asks at least."""
    aim, lowest = what
    arriving = [s for s in case.once(flow).arriving[aim.end].values() if meets(aim, s)]
    if not arriving:
        return _not_there(aim)
    known = [s.format for s in arriving if s.format]
    if any(_at_least(fmt, lowest) for fmt in known):
        return HOLDS
    if len(known) < len(arriving):
        return _not_told(case, aim)
    return fails(
        lambda: Words(
            f"{case.devices[aim.end].name} gets {known[0].label}; at least {lowest.label} was asked for.",
            "It is a picture, and not the one that was promised.",
            "Send a larger picture or more frames, or ask for less.",
        )
    )


def _not_told(case: Case, aim: Aim) -> Verdict:
    """Whoever makes the picture has not said which: the input that it goes into asks for that."""
    into = next((at for at, s in case.once(flow).arriving[aim.end].items() if meets(aim, s)), "")
    return waits(On("format-refused", Thing("device", aim.end, into)))


def _at_least(fmt: VideoFormat, lowest: VideoFormat) -> bool:
    return (
        fmt.width >= lowest.width
        and fmt.height >= lowest.height
        and frames_per_second(fmt.rate) >= frames_per_second(lowest.rate)
    )


@check(
    "sound-not-there", WITH_SOUND, "signal", "Does any sound arrive with the picture?", "whoever asked for it"
)  # fmt: skip
def sound_not_there(case: Case, aim: Aim) -> Verdict:
    """Whether a desk's line or an open microphone is heard where a picture was asked for with sound."""
    heard = next((s for s in case.once(sounds) if s.end == aim.end), None)
    if heard is None:
        return _not_there(aim)
    if heard.source != "none":
        return HOLDS
    return fails(
        lambda: Words(
            f"No sound arrives at {heard.name}: no desk is plugged in on the way, and every microphone is muted or there is none.",
            "A silent picture: the first message from the audience comes within ten seconds.",
            "Bring a line from the desk into the box that mixes, or open one microphone.",
        )
    )


CHECKS = (below_the_lowest, sound_not_there)
