"""``python -m mirvel demo``: serves the shop. Apart from ``running.py``, so that the processes beside the app, which
load what was run unless it is a package's own main, do not load the whole app each."""

import sys

from mirvel.running import main

sys.exit(main())
