"""The same examples in every run: what fails here fails everywhere."""

import os

from hypothesis import settings

os.environ["PATH"] += ":/usr/sbin:/sbin"  # nft and dnsmasq stand there (Debian)

settings.register_profile("seeded", derandomize=True, deadline=None)
settings.load_profile("seeded")
