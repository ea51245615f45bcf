"""What a kit comes to, for people and as Markdown."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from tallshelf.core.reports.hit_text import MARKS
from tallshelf.core.reports.lines import clip, count, escape, wrap
from tallshelf.core.reports.markdown import code, escape_markdown
from tallshelf.core.reports.paint import Paint

_MOST_SHOWN = 8


def kit_check_text(found: Mapping[str, Any], paint: Paint) -> str:
    """Return the answer to a check of a kit for people, in at most 100 columns."""
    verdict = paint.green("passes") if found["passed"] else paint.red("does not pass")
    budget = f" of {found['budget']:,}" if found["budget"] else ""
    lines = [
        f"{paint.bold(found['kit'])} {verdict}: {count(found['held_items'], 'item')}, "
        f"about {found['tokens']:,}{budget} tokens{_shelved(found)}"
    ]
    lines += [wrap(f"{one['key']}: {one['message']}", "    ", "  ✗ ") for one in found["problems"]]
    for move in found["moves"]:
        lines += _move_lines(move, paint)
    lines += [wrap(_mixed(one), "    ", "  ~ ") for one in found["mix_ups"][:_MOST_SHOWN]]
    if found["asks"]:
        lines.append(wrap(_asking(found["asks"], str), "    ", "  ? "))
    return "\n".join(lines)


def _shelved(found: Mapping[str, Any]) -> str:
    if not found["on_shelf"]:
        return "; it is not on the shelf yet"
    return "" if found["as_put"] else "; the one on the shelf says something else"


def _move_lines(move: Mapping[str, Any], paint: Paint) -> list[str]:
    before, after = move["before"] or "not held", move["after"] or "held no more"
    word = f"  {paint.red(move['word'])}" if move["word"] else ""
    lines = [f"  {escape(move['server'])} {before} → {after}{word}"]
    for name, said in (("gained", "+"), ("lost", "-")):
        if move["before"] and move["after"] and move[name]:
            lines.append(wrap(", ".join(move[name]), "      ", f"    {said} "))
    for one in move["hit_items"][:_MOST_SHOWN]:
        lines.append(
            wrap(f"{one['item']}: {one['message']} ({one['word']})", "      ", f"    {MARKS[one['word']]} ")
        )
        if one["witness"] is not None:
            shown = json.dumps(one["witness"]["instance"], ensure_ascii=False)
            lines.append(paint.dim(wrap(f"for example {clip(shown, 200)}", "        ")))
    if len(move["hit_items"]) > _MOST_SHOWN:
        lines.append(f"    and {len(move['hit_items']) - _MOST_SHOWN} more")
    if move["why"]:
        lines.append(paint.dim(wrap(f"it does not move by itself: {move['why']}", "    ")))
    return lines


def _mixed(one: Mapping[str, Any]) -> str:
    a, b = (f"{one[side]['server']}#{one[side]['item']}" for side in ("a", "b"))
    return f"a model may take {a} for {b}"


def _asking(asks: Sequence[Mapping[str, Any]], shown: Callable[[str], str]) -> str:
    owners = ", ".join(f"{ask['team']} (for {shown(ask['server'])})" for ask in asks)
    return f"putting it asks {owners}: it is put once they agree"


def kit_check_markdown(found: Mapping[str, Any]) -> str:
    """Return the answer to a check of a kit as Markdown, to fit a comment."""
    verdict = "passes" if found["passed"] else "does not pass"
    budget = f" of {found['budget']:,}" if found["budget"] else ""
    lines = [
        f"### {code(found['kit'])} {verdict}",
        "",
        f"{count(found['held_items'], 'item')}, about {found['tokens']:,}{budget} tokens{_shelved(found)}.",
    ]
    if found["problems"]:
        lines += [
            "",
            *(f"- {code(one['key'])}: {escape_markdown(one['message'])}" for one in found["problems"]),
        ]
    if found["moves"]:
        lines += ["", "| server | from | to | for this kit |", "|---|---|---|---|"]
        lines += [_move_row(one) for one in found["moves"]]
    hit = [(move["server"], one) for move in found["moves"] for one in move["hit_items"]]
    if hit:
        lines += ["", *(_hit_line(server, one) for server, one in hit[:20])]
    if found["asks"]:
        lines += ["", f"P{_asking(found['asks'], code)[1:]}."]
    return "\n".join(lines)


def _move_row(move: Mapping[str, Any]) -> str:
    told = move["word"] or "fits"
    return f"| {code(move['server'])} | {move['before'] or '–'} | {move['after'] or '–'} | {told} |"


def _hit_line(server: str, one: Mapping[str, Any]) -> str:
    item, message = code(f"{server}#{one['item']}"), escape_markdown(one["message"])
    return f"- {MARKS[one['word']]} **{one['word']}** {item}: {message}"
