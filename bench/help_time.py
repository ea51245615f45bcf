"""How long ``tallshelf --help`` takes, against a bare interpreter doing nothing.

Both run alternately, each in a new process; the ratio of medians is printed. At most 3 is meant.
"""

from __future__ import annotations

import statistics
import subprocess
import sys
import time
from pathlib import Path

_ROUNDS = 41


def _seconds(words: list[str]) -> float:
    started = time.perf_counter()
    subprocess.run(words, stdout=subprocess.DEVNULL, check=True)
    return time.perf_counter() - started


def main() -> None:
    bare = [sys.executable, "-c", "pass"]
    helped = [str(Path(sys.executable).with_name("tallshelf")), "--help"]
    times: dict[str, list[float]] = {"bare": [], "help": []}
    for _ in range(_ROUNDS):
        times["bare"].append(_seconds(bare))
        times["help"].append(_seconds(helped))
    base, ours = (statistics.median(times[name]) for name in ("bare", "help"))
    print(f"a bare interpreter   {base * 1000:6.1f} ms")
    print(f"tallshelf --help     {ours * 1000:6.1f} ms")
    print(f"ratio                {ours / base:6.2f}   (at most 3 is meant)")


if __name__ == "__main__":
    main()
