"""Firmware: which features a device is too old for."""

from humble_relay.core.plan import Device


def needed_for(device: Device, feature: str) -> str | None:
    """The firmware that the device's maker says the feature needs; None where any will do."""
    return next((need.version for need in device.needs if need.feature == feature), None)


def lacks_firmware(device: Device, feature: str) -> str | None:
    """The firmware the feature needs, when the device is known to have an older one; None otherwise."""
    needs = needed_for(device, feature)
    if needs and device.firmware and _parts(device.firmware) < _parts(needs):
        return needs
    return None


def _parts(version: str) -> tuple[int, ...]:
    numbers = [int(n) for n in version.split(".")]
    while numbers and numbers[-1] == 0:
        numbers.pop()
    return tuple(numbers)
