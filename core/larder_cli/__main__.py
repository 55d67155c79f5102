"""Entry point: ``python -m larder_cli``."""

import sys

from .main import main

sys.exit(main(sys.argv[1:]))
