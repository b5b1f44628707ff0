"""`python -m weighty_axle` is the same as the command."""

import sys

from weighty_axle.cli import main

if __name__ == "__main__":  # a process that helps this one reads this file too
    sys.exit(main())
