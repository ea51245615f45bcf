"""A request for people, shared by the commands that print one."""

from __future__ import annotations

from typing import Any

from tallshelf.core.reports import Paint, escape, table

_STATE_WORDS = {
    "open": "waits for sign-offs",
    "sent-back": "was sent back",
    "agreed": "is agreed, and can be published",
    "done": "is published",
    "declined": "is declined",
    "taken-back": "was taken back",
}


def request_text(found: dict[str, Any], paint: Paint) -> str:
    """Return a request with its route, sign-offs and what failed, on one page."""
    head = f"Request {found['id']}: publish {found['server']} {found['version']}"
    lines = [f"{paint.bold(head)} {_STATE_WORDS[found['state']]}."]
    lines.append(
        f"asked by {escape(found['opened_by'])} on {day(found['opened_at'])}, release {short(found['release_digest'])}"
    )
    if found["note"]:
        lines.append(f"  “{escape(found['note'])}”")
    if found["approved_by"]:
        lines.append(f"approved by a rule: {escape(found['approved_by'])}")
    rows = []
    for number, step in enumerate(found["route"], 1):
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
    hints = dict.fromkeys(hint for step in found["route"] for desk in step for hint in desk["hints"])
    lines += [f"look at: {escape(hint)}" for hint in hints]
    lines += _last_look(found["last_look"], paint)
    assessment = found["assessment"]
    verdict = paint.green("passes") if assessment["passed"] else paint.red("does not pass")
    lines += ["", f"The check {verdict}."]
    lines += [f"  - {escape(reason)}" for reason in assessment["because"]]
    for one in found["sign_offs"]:
        voided = " (voided)" if one["voided"] else ""
        note = f": {escape(one['note'])}" if one["note"] else ""
        lines.append(f"{escape(one['name'])} at {one['desk']}: {one['answer']}{voided}{note}")
    lines += [paint.amber(f"warning: {escape(one)}") for one in found["warnings"]]
    return "\n".join(lines)


def _last_look(look: dict[str, Any] | None, paint: Paint) -> list[str]:
    """Say what moved since the reader's own answer, when that is void."""
    if look is None:
        return []
    what = "the bytes are the same" if look["same_release"] else "another snapshot was handed in"
    head = f"Your answer of {day(look['at'])} at {look['desk']} ({look['answer']}) is void: {what}"
    moved = [one for one in look["inputs"] if one != "snapshot"]
    lines = ["", paint.amber(head + (f"; moved: {', '.join(moved)}." if moved else "."))]
    lines += [
        f"  since then, {one['impact']}: {escape(one['item'])}: {escape(one['message'])}"
        for one in look["changes"]
    ]
    for mark, rows in (("+", look["came"]), ("-", look["went"])):
        lines += [f"  {mark} {one['kind']}: {_at(one)}{escape(one['words'])}" for one in rows]
    return lines


def _at(line: dict[str, str]) -> str:
    return f"{escape(line['item'])}: " if line["item"] else ""


def day(moment: str | None) -> str:
    """Return the day and minute of an ISO 8601 moment, in UTC."""
    return moment[:16].replace("T", " ") if moment else ""


def short(digest: str) -> str:
    """Return a digest short enough to read out."""
    return digest.removeprefix("sha256:")[:12]
