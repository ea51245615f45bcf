"""The tour: the whole job by the real commands, on a directory of its own."""

from __future__ import annotations

import os
import subprocess
import sys


def test_the_tour_does_what_it_should(tmp_path):
    env = {"PATH": os.environ["PATH"], "HOME": str(tmp_path)}
    words = [sys.executable, "-m", "tallshelf", "demo", "--tour"]
    done = subprocess.run(
        words, cwd=tmp_path, env=env, capture_output=True, text=True, timeout=300, check=False
    )
    assert done.returncode == 0, done.stdout[-3000:] + done.stderr
    assert "steps did what they should" in done.stdout
