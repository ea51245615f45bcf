"""States of releases and requests, and the acts that lead from one to the next."""

from __future__ import annotations

from typing import Literal, get_args

from tallshelf.core.errors import Conflict

ReleaseState = Literal["draft", "in-review", "published", "deprecated", "withdrawn", "declined"]
RequestState = Literal["open", "sent-back", "agreed", "done", "declined", "taken-back"]
LIVE_STATES = ("open", "sent-back", "agreed")
"""The states of a request that is not decided yet."""
RELEASE_STATES: tuple[ReleaseState, ...] = get_args(ReleaseState)
REQUEST_STATES: tuple[RequestState, ...] = get_args(RequestState)

_REQUEST: dict[tuple[RequestState, str], RequestState] = {
    ("open", "agree"): "agreed",
    ("open", "send-back"): "sent-back",
    ("open", "decline"): "declined",
    ("open", "take-back"): "taken-back",
    ("open", "resubmit"): "open",
    ("sent-back", "resubmit"): "open",
    ("sent-back", "take-back"): "taken-back",
    ("agreed", "resubmit"): "open",
    ("agreed", "take-back"): "taken-back",
    ("agreed", "carry-out"): "done",
    ("agreed", "reassess"): "open",
    ("open", "reassess"): "open",
}
_RELEASE: dict[tuple[ReleaseState, str], ReleaseState] = {
    ("draft", "submit"): "in-review",
    ("in-review", "publish"): "published",
    ("in-review", "decline"): "declined",
    ("in-review", "take-back"): "draft",
    ("published", "deprecate"): "deprecated",
    ("published", "withdraw"): "withdrawn",
    ("deprecated", "withdraw"): "withdrawn",
}


def next_request_state(state: RequestState, act: str) -> RequestState:
    """Return the state of a request after an act; raise `Conflict` when the act does not fit."""
    try:
        return _REQUEST[state, act]
    except KeyError:
        raise Conflict(
            f"a request that is {state} cannot be changed by {act}",
            remedy=_fitting("request", [one for (at, one) in _REQUEST if at == state]),
        ) from None


def next_release_state(state: ReleaseState, act: str) -> ReleaseState:
    """Return the state of a release after an act; raise `Conflict` when the act does not fit."""
    try:
        return _RELEASE[state, act]
    except KeyError:
        raise Conflict(
            f"a release that is {state} cannot be changed by {act}",
            remedy=_fitting("release", [one for (at, one) in _RELEASE if at == state]),
        ) from None


def _fitting(what: str, acts: list[str]) -> str:
    return f"Acts that fit this {what}: {', '.join(sorted(acts))}." if acts else f"This {what} is closed."
