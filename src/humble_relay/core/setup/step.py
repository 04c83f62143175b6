"""One thing to be set on one device: what to set it to, what shows it, what loses it."""

import json
from dataclasses import dataclass
from hashlib import blake2s

from humble_relay.core.catalogue.gear import Model
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Device
from humble_relay.core.plan.setup_kinds import PRACTICE, SettingLoss, SetupDifference, SetupKind, ShownBy


@dataclass(frozen=True, slots=True)
class SetValue:
    """A value to type or to choose, and what it is called there."""

    label: str
    value: str
    prose: bool = False
    """Whether it is said, and not typed."""


@dataclass(frozen=True, slots=True)
class SetupStep:
    """One thing to be set on a device before it works in this plan. `at` are the ports (`device/port`) and links that it shows on."""

    id: str
    device: str
    kind: SetupKind
    says: str
    values: tuple[SetValue, ...]
    at: frozenset[str]
    where: str
    seen: str
    minutes: float
    shown_by: ShownBy
    lost_by: tuple[SettingLoss, ...]
    after: tuple[SetupKind, ...]
    stamp: str
    """Changes with what is to be set: what was seen of it before counts no more."""


def step(
    case: Case,
    device: Device,
    kind: SetupKind,
    values: tuple[tuple[str, str], ...] = (),
    at: tuple[str, ...] = (),
    of: str = "",
    says: str = "",
    also: str = "",
) -> SetupStep | None:
    """The step of a kind on a device, with what its model has of its own; None where the model needs none. `of` tells several of one
    kind apart: the port or link that each is of."""
    practice = PRACTICE[kind]
    own = differences(case, device).get(kind)
    if own and not own.asked:
        return None
    typed = (SetValue(label=label, value=value, prose=False) for label, value in values if value)
    said = (SetValue(label="", value=text, prose=True) for text in (also,) if text)
    filled = (*typed, *said)
    return SetupStep(
        id=f"{device.id}:{kind}:{of}" if of else f"{device.id}:{kind}",
        device=device.id,
        kind=kind,
        says=says or practice.short,
        values=filled,
        at=frozenset(at),
        where=own.where if own and own.where else practice.where,
        seen=own.seen if own and own.seen else practice.seen,
        minutes=own.minutes if own and own.minutes else practice.minutes,
        shown_by=own.shown_by if own and own.shown_by else practice.shown_by,
        lost_by=practice.lost_by if own is None or own.lost_by is None else own.lost_by,
        after=practice.after,
        stamp=_stamp(device, kind, filled),
    )


def differences(case: Case, device: Device) -> dict[SetupKind, SetupDifference]:
    """What a device has of its own, by kind: as its model has it in the gear library, and over that as it has it itself."""
    model = _models(case).get(device.model)
    return {d.kind: d for d in (*(model.device.setup if model else ()), *device.setup)}


@analysis
def _models(case: Case) -> dict[str, Model]:
    return {m.device.model: m for m in case.models.values() if m.device.model}


def _stamp(device: Device, kind: SetupKind, values: tuple[SetValue, ...]) -> str:
    """A short digest of what is to be set; firmware and cards are of the device, whatever it is called; of another box
    of the same model nothing was seen."""
    box = [device.model, device.item] if device.item else [device.model]
    text = json.dumps([*box, kind, [(v.label, v.value) for v in values]])
    return blake2s(text.encode(), digest_size=6).hexdigest()
