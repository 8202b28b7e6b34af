"""`python -m tightseam.cli`."""

import sys

from tightseam.cli import main

sys.exit(main())
