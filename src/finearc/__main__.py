"""``python -m finearc``."""

import sys

from finearc.cli.main import main

sys.exit(main())
