"""What must arrive, in a few strokes: who must see which picture, on what, and how live."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from humble_relay.core.catalogue.gear import made_from
from humble_relay.core.frozen import Frozen, Name, Slug, free_id, free_name, slug
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import ENDS, Aim, AimedPicture
from humble_relay.core.plan.aims import Liveness
from humble_relay.core.plan.edits import Edit, added
from humble_relay.core.plan.vocabulary import MIXERS, is_source

NewEnd = Literal["platform", "vertical-platform", "screen", "projector", "recorder", "person"]


class EndKind(NamedTuple):
    """A kind of end that a picture can be asked at before there is a box for it."""

    words: str
    model: str
    liveness: Liveness


NEW_ENDS: dict[NewEnd, EndKind] = {
    "platform": EndKind("a public platform", "platform-wide", "watched"),
    "vertical-platform": EndKind("a platform for vertical video", "platform-tall", "watched"),
    "screen": EndKind("a screen", "screen-large", "watched"),
    "projector": EndKind("a projector", "projector", "watched"),
    "recorder": EndKind("a recorder", "recorder", "watched"),
    "person": EndKind("a remote guest who talks back", "computer-stream", "talked-back"),
}


class PossibleEnd(Frozen):
    """Where a picture may be asked for: a box of the plan, or a kind of box that is added with the asking."""

    end: str
    words: str
    new: bool
    has_place: bool
    """Whether it stands somewhere, and is to be asked where."""


class WantedPicture(Frozen):
    """What is asked for: at a box of the plan by its id, or at a new one of a kind, called so, at a place."""

    end: Slug
    name: Name | None = None
    place: Slug | None = None
    picture: AimedPicture = "program"
    of: Slug | None = None
    liveness: Liveness | None = None
    """None: what is usual for such an end."""
    sound: bool | None = None


class AimWay(Frozen):
    """From which box to which the finder is to be asked for an aim; no source where the plan has none yet."""

    aim: str
    source: str | None
    end: str


def possible_ends(case: Case) -> tuple[PossibleEnd, ...]:
    """The boxes where a picture may end that nothing is asked at yet, and every kind of new one."""
    asked = {aim.end for aim in case.plan.aims}
    there = [
        PossibleEnd(end=d.id, words=d.name, new=False, has_place=False)
        for d in case.devices.values()
        if d.kind in ENDS and d.id not in asked
    ]
    new = (
        PossibleEnd(end=key, words=kind.words, new=True, has_place="platform" not in key)
        for key, kind in NEW_ENDS.items()
    )
    return (*there, *new)


def edits_of_aim(case: Case, wanted: WantedPicture) -> tuple[Edit, ...]:
    """What asks for the picture: the end, where it is new, and the aim. Raises KeyError where there is no such end."""
    edits: list[Edit] = []
    end, kind = wanted.end, NEW_ENDS.get(wanted.end)  # type: ignore[call-overload]
    if wanted.end in case.devices:
        usual: Liveness = "watched"
    elif kind is None:
        raise KeyError(wanted.end)
    else:
        usual = kind.liveness
        model = case.models[kind.model]
        plain = wanted.name or kind.words.partition(" ")[2][:1].upper() + kind.words.partition(" ")[2][1:]
        name = free_name(plain[:70], {d.name for d in case.devices.values()})
        end = free_id(slug(name), case.devices)
        place = None if model.device.kind == "platform" else wanted.place
        edits.append(added(made_from(model, end, place, name)))
    aim = Aim(
        id=free_id(end[:55].strip("-"), {a.id for a in case.plan.aims}),
        end=end,
        picture=wanted.picture,
        of=wanted.of,
        liveness=wanted.liveness or usual,
        sound=wanted.sound,
    )
    return (*edits, added(aim))


def aim_ways(case: Case) -> tuple[AimWay, ...]:
    """Where the finder is to begin for each aim, and where it ends."""
    return tuple(
        AimWay(aim=aim.id, source=next(_makers(case, aim), None), end=aim.end) for aim in case.plan.aims
    )


def _makers(case: Case, aim: Aim) -> Iterator[str]:
    """The boxes that may make the picture of an aim, the likeliest first."""
    if aim.of:
        yield aim.of
    boxes = [d for d in case.devices.values() if d.id != aim.end]
    if aim.picture != "source":
        made = ("program",) if aim.picture == "program" else (aim.picture, "program")
        for carries in made:
            yield from (
                d.id for d in boxes if any(p.carries == carries or carries in p.may_carry for p in d.ports)
            )
        yield from (d.id for d in boxes if d.kind in MIXERS and not is_source(d))
    yield from (d.id for d in boxes if is_source(d))
