"""What is proposed by one person and agreed to by another: the house style, routing rules, rulings."""

from __future__ import annotations

from tallshelf.core.errors import BadArgument, Conflict, Denied, Outdated


def need_reason(reason: str) -> str:
    """Return a reason without spaces around it; raise `BadArgument` when there is none."""
    if not reason.strip():
        raise BadArgument("a reason is needed", remedy="Say in a sentence why; it is kept in the ledger.")
    return reason.strip()


def need_seen(what: str, in_force: int, seen: int | None) -> None:
    """Raise `Outdated` when a text was written against another version than the one in force."""
    if seen is not None and seen != in_force:
        raise Outdated(
            f"version {in_force} of {what} is in force, and yours was written against {seen}",
            remedy="Look at what changed; nothing of yours was stored.",
        )


def answered_so(what: str, state: str, answer: str) -> bool:
    """Whether a proposal has this answer already; raise `Conflict` when it has another one."""
    if answer not in ("agree", "decline"):
        raise BadArgument(f"{answer!r} is no answer", remedy="Answers are agree and decline.")
    if state == "proposed":
        return False
    if state == {"agree": "in force", "decline": "declined"}[answer]:
        return True
    raise Conflict(f"{what} is {state} already")


def need_another(what: str, *, own: bool) -> None:
    """Raise `Denied` for whoever would agree to a proposal of their own."""
    if own:
        raise Denied(
            f"{what} takes a second curator, and you proposed this one",
            remedy="Ask another curator to agree to it.",
        )


def need_base(version: int, replaces: int, in_force: int) -> None:
    """Raise `Outdated` when what a proposal was written against is not in force any more."""
    if replaces != in_force:
        raise Outdated(
            f"version {version} was written against {replaces}, which is not in force any more",
            remedy="Propose it again on top of what is in force.",
        )
