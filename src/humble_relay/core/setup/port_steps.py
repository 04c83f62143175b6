"""What is to be set at the sockets that this plan uses: inputs enabled and told, outputs carrying what is meant, radio kits paired."""

from collections.abc import Iterator

from humble_relay.core.catalogue.words import CARRIES_WORDS, CONNECTOR_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Port, Radio
from humble_relay.core.plan.vocabulary import VIDEO, is_source
from humble_relay.core.setup.step import SetupStep, step
from humble_relay.core.signal.flow.propagation import flow


def port_steps(case: Case, device: Device) -> Iterator[SetupStep | None]:
    """What is to be set at the device's sockets, one after the other."""
    for port in device.ports:
        ref = f"{device.id}/{port.id}"
        join = case.join_at.get(ref)
        network_source = next((s for s in case.streams_to[device.id] if s.input == port.id), None)
        if join is None and network_source is None:
            continue
        if isinstance(join, Radio):
            if join.to_port == ref:
                yield step(case, device, "paired", at=(join.id,), of=port.id)
            continue
        if "audio" in port.types:
            if port.way == "in":
                sides = "the one line on both sides" if port.both_sides else ""
                yield step(case, device, "sound-level", (("Level", "line"), ("Sides", sides)), of=port.id)
            continue
        if not VIDEO & set(port.types):
            continue
        if port.way == "in":
            yield from _input(case, device, port, network_source.id if network_source else "")
        elif port.way == "out":
            yield from _output(case, device, port)


def _input(case: Case, device: Device, port: Port, network_source: str) -> Iterator[SetupStep | None]:
    ref = f"{device.id}/{port.id}"
    if device.kind == "switcher":
        yield step(case, device, "input-on", (), (ref,), port.id, f"{port.name} enabled")
    if len(port.types) > 1:
        type_ = "network" if network_source else port.type
        said = CONNECTOR_WORDS.get(type_, "") if type_ else ""
        yield step(
            case,
            device,
            "input-type",
            ((port.name, said),),
            (ref,),
            port.id,
            f"{port.name} set to {said or 'its type'}",
        )
    if network_source:
        name = case.link_name(network_source)
        yield step(
            case, device, "assigned", ((port.name, name),), (ref,), port.id, f"{port.name} shows {name}"
        )
    join = case.join_at.get(ref)
    if join and device.kind == "computer" and "usb" in port.types:
        box = case.device_of(join.from_port).name
        yield step(case, device, "capture-picked", (("Camera", box), ("Sound device", box)), (ref,), port.id)


def _output(case: Case, device: Device, port: Port) -> Iterator[SetupStep | None]:
    ref = f"{device.id}/{port.id}"
    if port.may_carry:
        said = CARRIES_WORDS.get(port.carries, port.carries)
        yield step(
            case, device, "carries", ((port.name, said),), (ref,), port.id, f"{port.name} carries {said}"
        )
    if device.kind == "camera" and port.overlay is not None:
        yield step(case, device, "menus-off", (), (ref,), port.id)
        if port.type == "hdmi":
            yield step(case, device, "output-mode", (), (ref,), port.id)
    if device.kind == "decoder":
        signal = flow(case).on_port.get(ref)
        made = port.produces or device.produces or (signal.format if signal else case.plan.show.format)
        yield step(case, device, "output-format", ((port.name, made.label if made else ""),), (ref,), port.id)
    if device.kind == "computer" and is_source(device):
        yield step(case, device, "mirrored", (), (ref,), port.id)
