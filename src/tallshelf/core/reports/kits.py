"""What a kit comes to, for people and as Markdown."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from tallshelf.core.reports.hit_text import MARKS
from tallshelf.core.reports.lines import clip, count, escape, wrap
from tallshelf.core.reports.markdown import code, escape_markdown

if TYPE_CHECKING:
    from tallshelf.core.reports.paint import Paint

_MOST_SHOWN = 8


def kit_check_text(document: Mapping[str, Any], paint: Paint) -> str:
    """Return the answer to a check of a kit for people, in at most 100 columns."""
    verdict = paint.green("passes") if document["passed"] else paint.red("does not pass")
    budget = f" of {document['budget']:,}" if document["budget"] else ""
    lines = [
        f"{paint.bold(document['kit'])} {verdict}: {count(document['held_items'], 'item')}, "
        f"about {document['tokens']:,}{budget} tokens{_shelved(document)}"
    ]
    lines += [wrap(f"{one['key']}: {one['message']}", "    ", "  ✗ ") for one in document["problems"]]
    for move in document["moves"]:
        lines += _move_lines(move, paint)
    lines += [wrap(_mixed(mix_up), "    ", "  ~ ") for mix_up in document["mix_ups"][:_MOST_SHOWN]]
    if document["asks"]:
        lines.append(wrap(_asking(document["asks"], str), "    ", "  ? "))
    return "\n".join(lines)


def _shelved(document: Mapping[str, Any]) -> str:
    if not document["on_shelf"]:
        return "; it is not on the shelf yet"
    return "" if document["as_put"] else "; the one on the shelf says something else"


def _move_lines(move: Mapping[str, Any], paint: Paint) -> list[str]:
    before, after = move["before"] or "not held", move["after"] or "held no more"
    word = f"  {paint.red(move['word'])}" if move["word"] else ""
    lines = [f"  {escape(move['server'])} {before} → {after}{word}"]
    for name, said in (("gained", "+"), ("lost", "-")):
        if move["before"] and move["after"] and move[name]:
            lines.append(wrap(", ".join(move[name]), "      ", f"    {said} "))
    for hit_item in move["hit_items"][:_MOST_SHOWN]:
        lines.append(
            wrap(
                f"{hit_item['item']}: {hit_item['message']} ({hit_item['word']})",
                "      ",
                f"    {MARKS[hit_item['word']]} ",
            )
        )
        if hit_item["witness"] is not None:
            shown = json.dumps(hit_item["witness"]["instance"], ensure_ascii=False)
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


def kit_check_markdown(document: Mapping[str, Any]) -> str:
    """Return the answer to a check of a kit as Markdown, to fit a comment."""
    verdict = "passes" if document["passed"] else "does not pass"
    budget = f" of {document['budget']:,}" if document["budget"] else ""
    lines = [
        f"### {code(document['kit'])} {verdict}",
        "",
        f"{count(document['held_items'], 'item')}, about {document['tokens']:,}{budget} tokens{_shelved(document)}.",
    ]
    if document["problems"]:
        lines += [
            "",
            *(
                f"- {code(problem['key'])}: {escape_markdown(problem['message'])}"
                for problem in document["problems"]
            ),
        ]
    if document["moves"]:
        lines += ["", "| server | from | to | for this kit |", "|---|---|---|---|"]
        lines += [_move_row(one) for one in document["moves"]]
    hit = [(move["server"], hit_item) for move in document["moves"] for hit_item in move["hit_items"]]
    if hit:
        lines += ["", *(_hit_line(server, one) for server, one in hit[:20])]
    if document["asks"]:
        lines += ["", f"P{_asking(document['asks'], code)[1:]}."]
    return "\n".join(lines)


def _move_row(move: Mapping[str, Any]) -> str:
    told = move["word"] or "fits"
    return f"| {code(move['server'])} | {move['before'] or '–'} | {move['after'] or '–'} | {told} |"


def _hit_line(server: str, one: Mapping[str, Any]) -> str:
    item, message = code(f"{server}#{one['item']}"), escape_markdown(one["message"])
    return f"- {MARKS[one['word']]} **{one['word']}** {item}: {message}"
