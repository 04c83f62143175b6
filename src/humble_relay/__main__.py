"""`python -m humble_relay`."""

import sys

from humble_relay.cli import main

sys.exit(main())
