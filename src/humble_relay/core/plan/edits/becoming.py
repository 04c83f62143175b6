"""The edits by which a device becomes what it was changed to elsewhere: only what differs, so that history can tell it."""

from humble_relay.core.plan import Device
from humble_relay.core.plan.edits import AddPort, Edit, RemovePort, SetField, SetPort

_ITS_OWN = {"id", "ports", "place"}
"""What a box keeps however it is changed: which box it is, and where it stands."""


def edits_to_become(before: Device, after: Device) -> tuple[Edit, ...]:
    """What makes one device the other: its fields, and its ports by their ids. A port that a cable is in cannot go."""
    was, now = before.model_dump(mode="json"), after.model_dump(mode="json")
    ports, kept = {p.id: p for p in before.ports}, {p.id for p in after.ports}
    edits: list[Edit] = [RemovePort(port=f"{before.id}/{id}") for id in ports if id not in kept]
    edits += [
        SetField(noun="device", id=before.id, field=field, value=now[field])
        for field in was
        if field not in _ITS_OWN and was[field] != now[field]
    ]
    for port in after.ports:
        if port.id not in ports:
            edits.append(AddPort(device=before.id, item=port))
            continue
        old, new = ports[port.id].model_dump(mode="json"), port.model_dump(mode="json")
        edits += [
            SetPort(port=f"{before.id}/{port.id}", field=field, value=new[field])
            for field in old
            if field != "id" and old[field] != new[field]
        ]
    return tuple(edits)
