"""`python -m tests.attacks`: see tests.attacks.large."""

import sys

from tests.attacks.large import main

sys.exit(main())
