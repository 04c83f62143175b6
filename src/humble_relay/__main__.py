"""`python -m humble_relay`. A helper process reads this file too, under another name, and must begin nothing by it."""

import sys

from humble_relay.cli import main

if __name__ == "__main__":
    sys.exit(main())
