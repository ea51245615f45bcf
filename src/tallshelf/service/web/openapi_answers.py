"""What every call of the API may answer besides what it is for: problems, and the headers that say how to go on."""

from __future__ import annotations

from typing import Any

_PROBLEMS = {
    "400": "what was sent cannot be used: a body, a query parameter or a header",
    "401": "nobody is signed in, or the token has ended",
    "403": "the account, or the token's scopes, may not do this",
    "404": "there is nothing of that name, or nothing that the account may see",
    "409": "it does not fit the present state, or what it was based on has moved",
    "412": "it has been changed since it was read",
    "413": "the request is larger than a limit",
    "415": "the body is not JSON",
    "422": "a document is refused whole; `errors` names the places",
    "429": "too many calls in a short time",
    "503": "the service cannot answer now",
}
_WAITING = ("429", "503")
_CHANGED_SINCE = ("edit_server", "apply_style", "apply_routing")
_SECRETS = frozenset(
    [
        "sign_in",
        "change_password",
        "make_token",
        "make_token_for",
        "make_webhook",
        "rotate_webhook",
        "invite",
        "accept_invite",
        "add_person",
    ]
)


def add_answers(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Put problems among the components, and into each call those that it may answer, with its headers."""
    components = result["components"]
    components["schemas"]["Problem"] = _problem()
    components["responses"] = {f"Problem{status}": _response(status) for status in _PROBLEMS}
    components["headers"] = _headers()
    for path, calls in result["paths"].items():
        for method, call in calls.items():
            for status in _statuses(path, method, call):
                call["responses"].setdefault(status, {"$ref": f"#/components/responses/Problem{status}"})
            _add_headers(path, method, call)
    return result


def _statuses(path: str, method: str, call: dict[str, Any]) -> list[str]:
    open_to_all = {} in call.get("security", [{}])
    found = ["400", "429", "503"]
    if not open_to_all:
        found += ["401", "403"]
    elif method == "post":
        found += ["401"]
    if "{" in path:
        found += ["404"]
    if method != "get":
        found += ["409"]
    if "requestBody" in call:
        found += ["413", "415", "422"]
    if call["operationId"] in _CHANGED_SINCE:
        found += ["412"]
    return sorted(set(found))


def _add_headers(path: str, method: str, call: dict[str, Any]) -> None:
    done = [call["responses"][status] for status in call["responses"] if status.startswith("2")]
    for response in done:
        if method == "get":
            response.setdefault("headers", {})["ETag"] = _header("ETag")
            if "/releases/{version}" in path or path.endswith("/comparison"):
                response["headers"] |= {name: _header(name) for name in ("Deprecation", "Sunset", "Link")}
    if method == "get":
        call.setdefault("parameters", []).append(
            _parameter("If-None-Match", "an ETag that was answered before")
        )
        call["responses"]["304"] = {"description": "nothing changed since the ETag that was sent"}
    if method == "post" and call["operationId"] not in _SECRETS:
        call.setdefault("parameters", []).append(
            _parameter(
                "Idempotency-Key", "the same key with the same request is answered the same, for a day", 200
            )
        )
        for response in done:
            response.setdefault("headers", {})["Idempotency-Replayed"] = _header("Idempotency-Replayed")


def _parameter(name: str, means: str, longest: int = 0) -> dict[str, Any]:
    schema = {"type": "string", **({"maxLength": longest} if longest else {})}
    return {"in": "header", "name": name, "schema": schema, "description": means}


def _header(name: str) -> dict[str, Any]:
    return {"$ref": f"#/components/headers/{name}"}


def _headers() -> dict[str, Any]:
    told = {
        "ETag": "names what was answered; send it back as If-None-Match, or as If-Match before a change",
        "Retry-After": "seconds to wait before the next try",
        "Idempotency-Replayed": "true where the answer was kept from before",
        "Deprecation": "since when the release is deprecated (RFC 9745)",
        "Sunset": "after when the release must not be used (RFC 8594)",
        "Link": "what to use instead (successor-version)",
    }
    return {name: {"description": means, "schema": {"type": "string"}} for name, means in told.items()}


def _response(status: str) -> dict[str, Any]:
    answer: dict[str, Any] = {
        "description": _PROBLEMS[status],
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    if status in _WAITING:
        answer["headers"] = {"Retry-After": _header("Retry-After")}
    return answer


def _problem() -> dict[str, Any]:
    text = {"type": "string"}
    return {
        "type": "object",
        "description": "A problem document (RFC 9457). `help` is a page about the type.",
        "required": ["type", "title", "status", "detail", "help"],
        "properties": {
            "type": {**text, "description": "urn:tallshelf:problem: and the code of the problem"},
            "title": text,
            "status": {"type": "integer"},
            "detail": text,
            "help": {**text, "format": "uri-reference"},
            "remedy": text,
            "request_id": text,
            "errors": {
                "type": "array",
                "items": {
                    "type": "object",
                    "required": ["pointer", "detail"],
                    "properties": {
                        "pointer": {**text, "description": "a JSON Pointer into the body"},
                        "detail": text,
                    },
                },
            },
        },
    }
