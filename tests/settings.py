"""The service's settings, over a data directory of this process's own that goes when it ends.

Django reads them before any conftest, and each worker of a parallel run inherits the environment of the first.
"""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from pathlib import Path

_DATA = tempfile.mkdtemp(prefix="tallshelf-tests-")
atexit.register(shutil.rmtree, _DATA, ignore_errors=True)
Path(_DATA, "tallshelf.toml").write_text('[fetch]\nallow = ["http://127.0.0.1:9"]\n', "utf-8")
os.environ["TALLSHELF_DATA"] = _DATA
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from tallshelf.service.settings import *  # noqa: E402, F403
