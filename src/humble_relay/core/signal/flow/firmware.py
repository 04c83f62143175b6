"""Firmware: which features a device is too old for."""

from humble_relay.core.plan import Device


def lacks_firmware(device: Device, feature: str) -> str | None:
    """The firmware the feature needs, when the device is known to have an older one; None otherwise."""
    for need in device.needs:
        if need.feature == feature and device.firmware and _parts(device.firmware) < _parts(need.version):
            return need.version
    return None


def _parts(version: str) -> tuple[int, ...]:
    numbers = [int(n) for n in version.split(".")]
    while numbers and numbers[-1] == 0:
        numbers.pop()
    return tuple(numbers)
