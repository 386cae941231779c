"""Runs the command line: ``python -m horismos``."""

import sys

from horismos.cli import main

sys.exit(main())
