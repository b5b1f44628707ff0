"""`python -m weighty_axle` is the same as the command."""

import sys

from weighty_axle.cli import main

sys.exit(main())
