"""Whether the optics at both ends of a fibre between network sockets, and its glass, go together."""

from humble_relay.core.judging.answer import HOLDS, Choice, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Cable

FIBRES: SubjectKind[Cable] = SubjectKind(
    "fibre between network sockets",
    lambda case: ((Thing("link", c.id, "optics"), c) for c in case.lan_cables.values() if c.cable == "fibre"),
)
_MODES = (Choice(value="single-mode", words="single-mode"), Choice(value="multimode", words="multimode"))


@check(
    "optics-differ", FIBRES, "signal", "Are its optics and its glass of one kind, single-mode or multimode?", "ISO/IEC 11801; IEEE 802.3", "gear",
    tried=True,
)  # fmt: skip
def optics_differ(case: Case, cable: Cable) -> Verdict:
    """Whether both modules and the fibre between them are single-mode, or all are multimode."""
    said = {case.port_name(ref): case.ports[ref].optic for ref in (cable.from_port, cable.to_port)}
    if len({*said.values(), cable.fibre_mode} - {None}) > 1:
        parts = [
            *(f"{name} is {mode}" for name, mode in said.items() if mode),
            *([f"the fibre is {cable.fibre_mode}"] if cable.fibre_mode else []),
        ]
        return fails(
            lambda: Words(
                f"{case.link_name(cable.id)}: {listed(parts)}.",
                "No light arrives that the other end understands: both lamps stay dark.",
                "Use two modules of one kind, and the fibre that they are for.",
            )
        )
    for ref in (cable.from_port, cable.to_port):
        if case.ports[ref].optic is None:
            device, _, port = ref.partition("/")
            asked = f"Which fibre is the optical module in {case.port_name(ref)} for?"
            return wants(Want(Thing("device", device, port), "optic", asked, choices=_MODES))
    if cable.fibre_mode is None:
        return wants(
            Want(
                Thing("link", cable.id),
                "fibre_mode",
                f"Which glass has the fibre {case.link_name(cable.id)}?",
                choices=_MODES,
            )
        )
    return HOLDS


CHECKS = (optics_differ,)
