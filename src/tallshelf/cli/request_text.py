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


def day(moment: str | None) -> str:
    """Return the day and minute of an ISO 8601 moment, in UTC."""
    return moment[:16].replace("T", " ") if moment else ""


def short(digest: str) -> str:
    """Return a digest short enough to read out."""
    return digest.removeprefix("sha256:")[:12]
