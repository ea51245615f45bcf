"""A data directory for the settings, made before Django reads them."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

os.environ["TALLSHELF_DATA"] = tempfile.mkdtemp(prefix="tallshelf-tests-")
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")
Path(os.environ["TALLSHELF_DATA"], "tallshelf.toml").write_text(
    '[fetch]\nallow = ["http://127.0.0.1:9"]\n', "utf-8"
)
