"""A page for each type of problem, to which problem documents point by ``help``; and all of them on one."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_safe

from tallshelf.core import errors
from tallshelf.core.errors import ShelfError
from tallshelf.service.web.problems import status_of_type

PROBLEMS: dict[str, type[ShelfError]] = {
    cls.code: cls for cls in (getattr(errors, name) for name in errors.__all__ if name != "Place")
}

_WHAT_HELPS = {
    "bad-argument": "Read `errors`: each names a place in the body by a JSON Pointer, and what is wrong there.",
    "conflict": "Read what is there now, and decide anew. Sending the same again changes nothing.",
    "inputs-moved": "Read the request again: what it was assessed by has moved. Then sign what you see now.",
    "outdated": "Read it again, take over what you changed, and send the new ETag as If-Match.",
    "denied": "The detail names the right that is missing; the account page tells what you have. Status 429 says that "
    "too many calls came in a short time: wait as long as Retry-After says.",
    "sign-in-needed": "Sign in, or send a token that has not ended as `Authorization: Bearer TOKEN`.",
    "service-fault": "Try again. Where it stays, hand the `request_id` to whoever runs the service.",
    "ledger-broken": "Nobody may decide until it is mended: `tallshelf admin verify-ledger` says where it breaks.",
}
_ALL = mark_safe('<p><a href="/problems">All problems</a></p>')


@require_safe
def index(request: HttpRequest) -> HttpResponse:
    """Return the list of all types."""
    rows = format_html_join(
        "",
        '<tr><td><a href="/problems/{}">{}</a></td><td>{}</td><td>{}</td></tr>',
        ((code, code, status_of_type(cls), _meaning(cls)) for code, cls in sorted(PROBLEMS.items())),
    )
    return _page(
        "Problems",
        format_html(
            "<p>What the service answers as a problem document (RFC 9457), by the end of its <code>type</code>.</p>"
            "<table><thead><tr><th>Type</th><th>Status</th><th>Meaning</th></tr></thead><tbody>{}</tbody></table>",
            rows,
        ),
    )


@require_safe
def page(request: HttpRequest, code: str) -> HttpResponse:
    """Return what one type of problem means and what helps."""
    cls = PROBLEMS.get(code)
    if cls is None:
        return _page("No such problem", _ALL, status=404)
    codes = [base.code for base in cls.__mro__ if issubclass(base, ShelfError)]
    helps = next((_WHAT_HELPS[one] for one in codes if one in _WHAT_HELPS), "")
    return _page(
        cls.title,
        format_html(
            "<p><code>urn:tallshelf:problem:{}</code>, status {}</p><p>{}</p>{}"
            "<p>The answer itself says more: <code>detail</code>, a <code>remedy</code> where there is one, and the "
            '<code>request_id</code> under which the service logged it.</p><p><a href="/problems">All problems</a></p>',
            code,
            status_of_type(cls),
            _meaning(cls),
            format_html("<h2>What helps</h2><p>{}</p>", helps) if helps else "",
        ),
    )


def _meaning(cls: type[ShelfError]) -> str:
    if cls is ShelfError:
        return "Something went wrong that has no type of its own."
    return (cls.__doc__ or "").strip().replace("``", "")


def _page(title: str, body: str, status: int = 200) -> HttpResponse:
    return HttpResponse(
        format_html(
            '<!doctype html><html lang="en"><head><meta charset="utf-8">'
            '<meta name="viewport" content="width=device-width"><title>{} - Tall Shelf</title>'
            '<link rel="stylesheet" href="/static/plain.css"></head><body><main><h1>{}</h1>{}</main></body></html>',
            title,
            title,
            body,
        ),
        status=status,
    )
