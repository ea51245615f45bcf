"""The OpenAPI document: how one signs in, and our own formats as its components."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from drf_spectacular.extensions import OpenApiAuthenticationExtension

from tallshelf.core.formats import schema

_FORMATS = {
    "Assessment": "assessment-1",
    "Comparison": "comparison-1",
    "Findings": "findings-1",
    "Life": "life-1",
    "Outline": "outline-1",
    "Overlaps": "overlaps-1",
    "Snapshot": "snapshot-1",
    "StandIn": "stand-in-1",
    "StyleEffect": "style-effect-1",
}


_GROUPS = {
    "ledger": "ledger",
    "metrics": "operations",
    **dict.fromkeys(("session", "sessions", "password", "tokens", "teams"), "people"),
}


class TokenScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """A bearer token."""

    target_class = "tallshelf.service.web.authentication.TokenAuthentication"
    name = "token"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "http", "scheme": "bearer"}


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The console's session cookie."""

    target_class = "tallshelf.service.web.authentication.ConsoleSession"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": settings.SESSION_COOKIE_NAME}


def component(name: str) -> dict[str, Any]:
    """Return a reference to a component that `add_formats` puts into the document."""
    return {"$ref": f"#/components/schemas/{name}"}


def add_formats(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Put our formats, and what the service makes of them, among the components; group the calls."""
    for path, calls in result["paths"].items():
        for method, call in calls.items():
            call["tags"] = [_group(method, path.removeprefix("/api/v1/"))]
    components = result["components"]["schemas"]
    for name, short in _FORMATS.items():
        _add(components, name, schema(short))
    components["Declared"] = {
        "type": "object",
        "description": "a tool, resource, template or prompt as the server declared it, after the protocol",
        "properties": {
            name: {"type": "string"} for name in ("name", "uri", "uriTemplate", "title", "description")
        },
        "additionalProperties": component("JsonValue"),
    }
    components["List"]["items"] = component("Declared")
    items = components["Outline"]["properties"]["items"]["items"]
    components["Item"] = _with(
        items,
        digest={"type": "string"},
        declared=component("Declared"),
        findings={"type": "array", "items": component("Finding")},
        deprecated={
            "type": "string",
            "description": "until when, why, and what to use instead; empty: it is not",
        },
    )
    components["Items"] = _with(
        components["Outline"],
        items={"type": "array", "items": component("Item")},
        findings={"type": "array", "items": component("Finding"), "description": "about the server itself"},
    )
    components["ReleaseComparison"] = _with(
        components["Comparison"],
        kits={"type": "array", "items": component("KitHit"), "description": "that it hits, worst first"},
        releases={
            "type": "object",
            "required": ["old", "new"],
            "properties": {"old": {"type": "string"}, "new": {"type": "string"}},
        },
    )
    components["ChangesSummary"] = _object(
        **{name: components["Comparison"]["properties"][name] for name in ("items", "groups")}
    )
    components["Rules"] = _object(results={"type": "array", "items": component("Rule")})
    components["Rule"] = _object(
        rule={"type": "string"},
        family={"type": "string"},
        covers={"type": "array", "items": {"type": "string"}},
        level=components["Finding"]["properties"]["level"],
        reason={"type": "string"},
        settings={
            "type": "array",
            "items": _object(
                name={"type": "string"},
                type={"enum": ["int", "bool", "list"]},
                default={"description": "a number, true or false, or a list of words"},
                means={"type": "string"},
            ),
        },
        bad={**component("Snapshot"), "description": "a snapshot that the rule finds something in"},
        good={**component("Snapshot"), "description": "one that it does not"},
    )
    components["JsonValue"] = {
        "description": "any JSON value",
        "type": ["null", "boolean", "number", "string", "array", "object"],
        "items": {},  # generators of clients do not take an array without
    }
    _type_the_rest(result)
    components["PairedOverlap"] = _with(components["Overlap"], pair={"type": "string"})
    return result


def _type_the_rest(value: Any) -> None:
    """Say of objects whose members are not named here that they hold any JSON values."""
    if isinstance(value, list):
        for one in value:
            _type_the_rest(one)
    if not isinstance(value, dict):
        return
    if value.get("type") == "object":
        named = {"properties", "additionalProperties", "patternProperties"} & value.keys()
        if not named or value.get("additionalProperties") == {}:
            value["additionalProperties"] = component("JsonValue")
    for one in value.values():
        _type_the_rest(one)


def _group(method: str, path: str) -> str:
    """Return which part of the service answers: people, catalog, review, ledger or operations."""
    first = path.partition("/")[0]
    if (
        first in ("requests", "waivers")
        or path.endswith("/check")
        or (method == "post" and path.endswith("/releases"))
    ):
        return "review"
    return _GROUPS.get(first, "catalog")


def _add(components: dict[str, Any], name: str, given: dict[str, Any]) -> None:
    kept = {key: value for key, value in given.items() if key not in ("$schema", "$id", "title", "$defs")}
    components[name] = _moved(kept)
    for inner, value in given.get("$defs", {}).items():
        components[_title(inner)] = _moved(value)


def _moved(value: Any) -> Any:
    """Point references to a format's own definitions at the components they became.

    What is answered is open: within a version of the API members may be added, and programs pass over them.
    """
    if isinstance(value, list):
        return [_moved(one) for one in value]
    if not isinstance(value, dict):
        return value
    reference = value.get("$ref")
    if isinstance(reference, str) and reference.startswith("#/$defs/"):
        return component(_title(reference.removeprefix("#/$defs/")))
    return {
        key: _moved(one) for key, one in value.items() if not (key == "additionalProperties" and one is False)
    }


def _title(name: str) -> str:
    return name[:1].upper() + name[1:]


def _with(given: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {
        **given,
        "required": sorted({*given["required"], *more}),
        "properties": {**given["properties"], **more},
    }


def _object(**properties: Any) -> dict[str, Any]:
    return {"type": "object", "required": sorted(properties), "properties": properties}
