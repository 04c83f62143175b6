"""Whether what arrives is good enough for what was asked: its picture, and its sound."""

from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    DependsOn,
    Thing,
    Verdict,
    Want,
    Words,
    fails,
    holds,
    waits,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import PUSHES
from humble_relay.core.plan import Aim, Device, Stream
from humble_relay.core.plan.video import VideoFormat, frames_per_second
from humble_relay.core.signal.flow.propagation import Signal, flow, lines_into
from humble_relay.core.signal.ports.coverage import aim_not_met, meets
from humble_relay.core.signal.ports.formats import divides, format_refused

WITH_A_LOWEST: SubjectKind[tuple[Aim, VideoFormat]] = SubjectKind(
    "aim that names the lowest picture",
    lambda case: ((Thing("aim", a.id, "picture"), (a, a.lowest)) for a in case.plan.aims if a.lowest),
)
AIMS: SubjectKind[Aim] = SubjectKind(
    "aim", lambda case: ((Thing("aim", a.id, "sound"), a) for a in case.plan.aims)
)


def _not_there(aim: Aim) -> Verdict:
    return waits(DependsOn(aim_not_met, Thing("aim", aim.id)))


@check(
    "below-the-lowest", WITH_A_LOWEST, "signal", "Is the picture that arrives at least the lowest that will do?",
    "the brief",
)  # fmt: skip
def below_the_lowest(case: Case, what: tuple[Aim, VideoFormat]) -> Verdict:
    """Whether a picture arrives with as many pixels each way, and as many frames a second, as the aim asks at least."""
    aim, lowest = what
    arriving = [s for s in flow(case).arriving[aim.end].values() if meets(aim, s)]
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
    """The maker of the picture has not said which: the input that it goes into asks for that."""
    into = next((at for at, s in flow(case).arriving[aim.end].items() if meets(aim, s)), "")
    return waits(DependsOn(format_refused, Thing("device", aim.end, into)))


def _at_least(fmt: VideoFormat, lowest: VideoFormat) -> bool:
    return (
        fmt.width >= lowest.width
        and fmt.height >= lowest.height
        and frames_per_second(fmt.rate) >= frames_per_second(lowest.rate)
    )


@check(
    "sound-not-there", AIMS, "signal", "Does the sound that was asked for arrive with the picture?", "the brief"
)  # fmt: skip
def sound_not_there(case: Case, aim: Aim) -> Verdict:
    """Whether a desk's line or an open microphone is heard where a picture was asked for with sound: by way of every cable,
    box and stream between. Whether a program that is published or recorded has sound must be said."""
    end = case.devices[aim.end]
    if aim.sound is None and aim.picture in ("program", "clean") and end.kind in ("platform", "recorder"):
        asked = f"Is the {aim.picture} at {end.name} to have sound?"
        return wants(Want(Thing("aim", aim.id), "sound", asked, choices=WITH_OR_WITHOUT))
    if not aim.sound:
        return HOLDS
    arriving = [s for s in flow(case).arriving[aim.end].values() if meets(aim, s)]
    if not arriving:
        return _not_there(aim)
    heard = next((s for s in arriving if s.sound), None)
    if heard or aim.end in lines_into(case):
        if heard is None or heard.sound_by is None:
            return HOLDS
        box = case.devices[heard.sound_by]
        asked = f"Does the sound that comes into {box.model or box.name} with a picture come out of it again?"
        return wants(
            Want(Thing("device", box.id), "sound_through", asked, model=box.model, choices=COMES_OUT)
        )
    return fails(lambda: _silence(case, end, arriving[0]))


WITH_OR_WITHOUT = (Choice(value=True, words="with sound"), Choice(value=False, words="without"))
COMES_OUT = (Choice(value=True, words="comes out"), Choice(value=False, words="is lost"))


def _silence(case: Case, end: Device, signal: Signal) -> Words:
    at = signal.silenced
    lost = case.devices[at].name if at in case.devices else case.link_name(at) if at else ""
    why = (
        f"it is lost at {lost}"
        if lost
        else "no desk is plugged in on the way, and every microphone is muted or there is none"
    )
    return Words(
        f"No sound arrives at {end.name}: {why}.",
        "A silent picture: the first message from the audience comes within ten seconds.",
        "Bring a line from the desk into the box that mixes, or open one microphone that is on the way.",
    )


@check(
    "other-than-the-brief", PUSHES, "signal", "Is it the picture that the brief has, or one that is made of it evenly?",
    "the brief; arithmetic", "plan",
)  # fmt: skip
def other_than_the_brief(case: Case, stream: Stream) -> Verdict:
    """Whether a push has the raster of the brief, and a frame rate that whole frames of the brief's make. It may be meant:
    a note, and no more. A canvas of the other orientation is asked about apart."""
    brief, sent = case.plan.show.format, stream.format
    if brief is None or (brief.width > brief.height) != (sent.width > sent.height):
        return HOLDS
    if (sent.width, sent.height) == (brief.width, brief.height) and divides(brief.rate, sent.rate):
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"{stream.name} sends {sent.label}, and the brief says {brief.label}.",
            "Viewers see another picture than the room was told of; where the frame rates do not divide, pans judder.",
            "Send the brief's picture, or change the brief.",
        )
    )


CHECKS = (other_than_the_brief, below_the_lowest, sound_not_there)
