"""The same examples in every run: what fails here fails everywhere; and nothing is passed over in CI."""

import os
from typing import NoReturn

import pytest
from hypothesis import settings

os.environ["PATH"] += ":/usr/sbin:/sbin"  # nft and dnsmasq stand there (Debian)

settings.register_profile("seeded", derandomize=True, deadline=None)
settings.load_profile("seeded")


def passed_over(why: str) -> NoReturn:
    """Passes a check against the outside over, where what it needs is not there; in CI that is a failure."""
    (pytest.fail if os.environ.get("CI") else pytest.skip)(why)
    raise AssertionError
