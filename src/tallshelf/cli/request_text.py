"""A request for people, shared by the commands that print one."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from tallshelf.core import reports
from tallshelf.core.reports import Paint, escape, table, wrap

_MANY = 3
"""From how many places on the same change is told once."""
_STATE_WORDS = {
    "open": "waits for sign-offs",
    "sent-back": "was sent back",
    "agreed": "is agreed, and can be published",
    "done": "is published",
    "declined": "is declined",
    "taken-back": "was taken back",
}


_ACT_WORDS = {"agreed": "is agreed", "done": "is done"}


def request_text(document: dict[str, Any], paint: Paint) -> str:
    """Return a request with its route, sign-offs and what failed, on one page."""
    head = f"Request {document['id']}: {escape(document['title'])}"
    words = _STATE_WORDS if document["kind"] == "publish" else _STATE_WORDS | _ACT_WORDS
    lines = [f"{paint.bold(head)} {words[document['state']]}."]
    what = "release" if document["kind"] == "publish" else "on terms"
    asked = f"asked by {escape(document['opened_by'])} on {day(document['opened_at'])}"
    lines.append(f"{asked}, {what} {short(document['release_digest'])}")
    lines += _terms(document)
    if document["note"]:
        lines.append(f"  “{escape(document['note'])}”")
    if document["moved"]:
        moved = ", ".join(document["moved"])
        lines.append(
            paint.amber(f"{moved} moved since it was assessed: tallshelf answer {document['id']} --assess")
        )
    if document["taken_by"]:
        lines.append(f"{escape(document['taken_by'])} looks at it")
    if document["approved_by"]:
        lines.append(f"approved by a rule: {escape(document['approved_by'])}")
    rows = []
    for number, step in enumerate(document["route"], 1):
        for desk in step:
            names = ", ".join(escape(one["name"]) for one in desk["agreed"])
            standing = f"{len(desk['agreed'])} of {desk['needed']}" + (f" ({names})" if names else "")
            rows.append(
                (
                    str(number),
                    escape(desk["title"]),
                    desk["standing"],
                    standing,
                    escape("; ".join(desk["reasons"])),
                )
            )
    if rows:
        lines += ["", table(rows, ("step", "desk", "", "agreed", "asked because"), paint)]
    for team in document["tells"]:
        why = escape("; ".join(team["reasons"]))
        lines.append(f"{escape(team['team'])} may object until {day(team['until'])} UTC: {why}")
    if document["restricted_to"] is not None:
        seen = ", ".join(map(escape, document["restricted_to"]))
        lines.append(paint.amber(f"You see what reaches your kits: {seen or 'nothing any more'}"))
    hints = dict.fromkeys(hint for step in document["route"] for desk in step for hint in desk["hints"])
    lines += [f"look at: {escape(hint)}" for hint in hints]
    lines += _last_look(document["last_look"], paint)
    assessment = document["assessment"]
    lines.append("")
    if document["kind"] != "publish":
        lines.append(f"Assessed on {document['about'] or 'nothing published'}.")
    verdict = paint.green("passes") if assessment["passed"] else paint.red("does not pass")
    lines.append(f"The check {verdict}.")
    lines += [f"  - {gate['gate']}: {escape(gate['message'])}" for gate in assessment["gates"]]
    lines += assessed_text(assessment, paint, document["changes_summary"])
    if document["kits"]:
        lines += [reports.hits_text(document["kits"], paint), ""]
    for sign_off in document["sign_offs"]:
        voided = " (voided)" if sign_off["voided"] else ""
        note = f": {escape(sign_off['note'])}" if sign_off["note"] else ""
        lines.append(f"{escape(sign_off['name'])} at {sign_off['desk']}: {sign_off['answer']}{voided}{note}")
        lines += [f"  despite {each['gate']}: {escape(each['reason'])}" for each in sign_off["despite"]]
        lines += [_condition(each) for each in sign_off["conditions"]]
    lines += comments_text(document, paint)
    lines += [paint.amber(f"warning: {escape(warning)}") for warning in document["warnings"]]
    return "\n".join(lines)


def assessed_text(
    assessment: dict[str, Any], paint: Paint, summary: dict[str, Any] | None = None
) -> list[str]:
    """Return what counts in an assessment: the same changes at many places together, the rest item by item."""
    blocks: dict[str, list[str]] = {}
    grouped = [group for group in summary["groups"] if len(group["places"]) >= _MANY] if summary else []
    together = {(one["kind"], *place.values()) for one in grouped for place in one["places"]}
    for change in assessment["changes"] or ():
        place = change["kind"], change["item"], change["old_pointer"], change["new_pointer"]
        if not change["folded"] and place not in together:
            word = _word(change)
            blocks.setdefault(change["item"], []).append(
                wrap(f"{word}: {change['message']}", "      ", "    ")
            )
    for finding in assessment["findings"]:
        if not finding["waived"] and not finding["known"]:
            line = f"{finding['level']} {finding['rule']}: {finding['message']}"
            blocks.setdefault(finding["item"], []).append(wrap(line, "      ", "    "))
    for overlap in assessment["overlaps"] or ():
        if overlap["class"] == "same-job" and not overlap["ruled"]:
            words = f"    does the same job as {overlap['b']['server']} {escape(overlap['b']['item'])}"
            blocks.setdefault(overlap["a"]["item"], []).append(words)
    lines = [f"Changes against {escape(assessment['base'])}, and findings" if blocks or grouped else ""]
    if assessment["base"] in (None, "first"):
        lines = ["Findings" if blocks else ""]
    lines += [wrap(_together(one), "    ", "  ") for one in grouped]
    for item, said in blocks.items():
        lines += [f"  {escape(item)}", *said]
    return ["", paint.bold(lines[0]), *lines[1:], ""] if lines[0] else []


def _together(group: dict[str, Any]) -> str:
    """Say the same change at many places, with the items that it is at."""
    items = list(dict.fromkeys(place["item"].partition(":")[2] or place["item"] for place in group["places"]))
    more = f" and {len(items) - _MANY} more" if len(items) > _MANY else ""
    return f"{_word(group)}: {group['message']} ({', '.join(items[:_MANY])}{more})"


def _word(change: dict[str, Any]) -> str:
    return f"{change['impact']}, silent" if change["silent"] else str(change["impact"])


def _terms(document: dict[str, Any]) -> list[str]:
    terms = document["terms"]
    lines = []
    if terms.get("sunset_at"):
        lines.append(f"not to be used after {day(terms['sunset_at'])}")
    if terms.get("replacement"):
        lines.append(f"use {escape(terms['replacement'])} instead")
    if terms.get("data_class_before"):
        lines.append(f"it is {terms['data_class_before']} now")
    if terms.get("range"):
        lines.append(f"at {escape(terms['range'])}: {escape(', '.join(terms['items']))}")
        lines.append(
            f"for the kit {escape(terms['kit'])} of {escape(terms['team'])}: {escape(terms['purpose'])}"
        )
    if terms.get("scheme_before"):
        lines.append(f"it is numbered by the {terms['scheme_before']} scheme now")
    return lines


def _condition(one: dict[str, Any]) -> str:
    done = f"closed by {escape(one['closed_by'])}: {escape(one['closing_note'])}" if one["closed_at"] else ""
    return f"  under the condition, {escape(one['owner'])} by {one['due']}: {escape(one['text'])}" + (
        f" ({done})" if done else ""
    )


_PLACE_WORDS = {"otherwise": ", which reads otherwise now", "gone": ", which is gone"}


def comments_text(document: dict[str, Any], paint: Paint) -> list[str]:
    """Return the lines of what was said on a request."""
    lines = []
    for comment in document["comments"]:
        asks = comment["kind"] in ("question", "objection") and not comment["settled"]
        place = f" on {escape(comment['item'] + comment['pointer'])}" if comment["item"] else ""
        verb = {"question": "asks", "objection": "objects"}.get(comment["kind"], "says")
        moved = _PLACE_WORDS.get(comment["place"] or "", "")
        head = f"{comment['id']}. {escape(comment['name'])} {verb}{place}{moved}:"
        lines.append(f"{paint.amber(head) if asks else head} {escape(comment['text'])}")
        lines += [f"   {escape(each['name'])} answers: {escape(each['text'])}" for each in comment["answers"]]
        if asks:
            lines.append(f"   next: tallshelf comment {document['id']} TEXT --answer {comment['id']}")
    return ["", *lines] if lines else []


def due_text(moment: str | None, now: datetime, paint: Paint) -> str:
    """Return when something is due, in red when that has passed."""
    if moment is None:
        return "-"
    if datetime.fromisoformat(moment) < now:
        return paint.red(f"{day(moment)[:10]}, overdue")
    return day(moment)


def _last_look(look: dict[str, Any] | None, paint: Paint) -> list[str]:
    """Say what moved since the reader's own answer, when that is void."""
    if look is None:
        return []
    what = "the bytes are the same" if look["same_release"] else "another snapshot was handed in"
    head = f"Your answer of {day(look['at'])} at {look['desk']} ({look['answer']}) is void: {what}"
    moved = [one for one in look["inputs"] if one != "snapshot"]
    lines = ["", paint.amber(head + (f"; moved: {', '.join(moved)}." if moved else "."))]
    lines += [
        f"  since then, {change['impact']}: {escape(change['item'])}: {escape(change['message'])}"
        for change in look["changes"]
    ]
    for mark, rows in (("+", look["came"]), ("-", look["went"])):
        lines += [f"  {mark} {row['kind']}: {_at(row)}{escape(row['words'])}" for row in rows]
    return lines


def _at(line: dict[str, str]) -> str:
    return f"{escape(line['item'])}: " if line["item"] else ""


def day(moment: str | None) -> str:
    """Return the day and minute of an ISO 8601 moment, in UTC."""
    return moment[:16].replace("T", " ") if moment else ""


def short(digest: str) -> str:
    """Return a digest short enough to read out."""
    return digest.removeprefix("sha256:")[:12]
