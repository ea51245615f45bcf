"""``python -m tallshelf``: the command line."""

import sys

from tallshelf.run.main import main

if __name__ == "__main__":
    sys.exit(main())
