"""The same examples in every run: what fails here fails everywhere; and nothing is passed over in CI."""

import os
from pathlib import Path
from typing import NoReturn

import pytest
from hypothesis import settings

HERE = Path(__file__).parent
os.environ["PATH"] += ":/usr/sbin:/sbin"  # nft and dnsmasq stand there (Debian)

settings.register_profile("seeded", derandomize=True, deadline=None)
settings.load_profile("seeded")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The interface's tests are not watched by coverage: it asks how well the core is tested by its own."""
    for item in items:
        if item.path.is_relative_to(HERE / "web") or item.path.is_relative_to(HERE / "browser"):
            item.add_marker(pytest.mark.no_cover)


def passed_over(why: str) -> NoReturn:
    """Passes a check against the outside over, where what it needs is not there; in CI that is a failure."""
    (pytest.fail if os.environ.get("CI") else pytest.skip)(why)
    raise AssertionError
