"""Who is hit, for people."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from tallshelf.core.kits import WORDS, Hit
from tallshelf.core.reports.lines import count, wrap
from tallshelf.core.reports.paint import PLAIN, Paint

MARKS = {"ended": "■", "breaking": "▲", "undecided": "◇", "ignored": "▲", "silent": "◆", "caution": "△"}
"""How what hits a kit is marked, beside its word."""
_MOST_SHOWN = 8


def hit_line(hits: Sequence[Hit]) -> str:
    """Return in one line how many kits are hit, and by what."""
    counts = {word: sum(hit.word == word for hit in hits) for word in WORDS}
    words = ", ".join(f"{number} {word}" for word, number in counts.items() if number)
    return f"hits {count(len(hits), 'kit')} of {count(len({hit.team for hit in hits}), 'team')}: {words}"


def hits_text(hits: Sequence[Mapping[str, Any]], paint: Paint = PLAIN) -> str:
    """Return in lines which kits are hit, worst first; nothing where none is."""
    if not hits:
        return ""
    lines = [paint.bold(f"hits {count(len(hits), 'kit')}")]
    for hit in hits[:_MOST_SHOWN]:
        items = ", ".join(f"{hit_item['item']} ({hit_item['word']})" for hit_item in hit["hit_items"][:4])
        more = f" and {len(hit['hit_items']) - 4} more" if len(hit["hit_items"]) > 4 else ""
        lines.append(
            wrap(f"{hit['kit']} of {hit['team']}: {items}{more}", "    ", f"  {MARKS[hit['word']]} ")
        )
    if len(hits) > _MOST_SHOWN:
        lines.append(f"  and {count(len(hits) - _MOST_SHOWN, 'kit')} more")
    return "\n".join(lines)
