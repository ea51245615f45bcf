"""Rules on resources, resource templates and prompts."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import server
from tallshelf.core.words.pattern import Pattern

_URI = Pattern(r"[A-Za-z][A-Za-z0-9+.-]*:(?:[A-Za-z0-9\-._~:/?#\[\]@!$&'()*+,;=]|%[0-9A-Fa-f]{2})+")
_EXPRESSION = Pattern(r"\{([^{}]*)\}")
_INSIDE = Pattern(r"[+#./;?&]?[A-Za-z0-9_%.]+(?::[1-9]\d{0,3}|\*)?(?:,[A-Za-z0-9_%.]+(?::[1-9]\d{0,3}|\*)?)*")
_MIME = Pattern(
    r"(?:application|audio|chemical|font|image|message|model|multipart|text|video)/[A-Za-z0-9][A-Za-z0-9!#$&^_.+-]*(?:\s*;\s*[\w-]+=(?:[\w.+-]+|\"[^\"]*\"))*"
)
_LOCAL = Pattern(
    r"file://|^/(?:home|Users|tmp|var|opt|root|srv|mnt)/|^[A-Za-z]:[\\/](?!/)|^~/|localhost|127\.0\.0\.1",
    re.IGNORECASE,
)

_TYPES = {
    "csv": "text/csv",
    "html": "text/html",
    "jpg": "image/jpeg",
    "json": "application/json",
    "md": "text/markdown",
    "pdf": "application/pdf",
    "png": "image/png",
    "txt": "text/plain",
    "xml": "application/xml",
    "yaml": "application/yaml",
}


def _variables(template: str) -> Iterable[str]:
    import uritemplate  # here, since few servers have templates, and it takes long to load

    return uritemplate.variables(template)


def _unfit_uri(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind == "resource" and not _URI.fullmatch(item.name):
            yield RuleHit(
                item.identity,
                "/uri",
                f"{item.name!r} is no URI (RFC 3986); write scheme:path, with others escaped",
            )


def _unfit_template(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind != "template":
            continue
        plain = _EXPRESSION.sub("x", item.name)
        fits = all(_INSIDE.fullmatch(inside) for inside in _EXPRESSION.findall(item.name))
        if not fits or "{" in plain or "}" in plain or not _URI.fullmatch(plain):
            yield RuleHit(item.identity, "/uriTemplate", f"{item.name!r} is no URI template (RFC 6570)")
        elif not _variables(item.name):
            yield RuleHit(
                item.identity, "/uriTemplate", f"{item.name!r} has no variable; declare it as a resource"
            )


def _unexplained_variable(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind != "template" or "{" not in item.name:
            continue
        said = {word for text in item.texts for word in text.words} | set(item.text.stems)
        for variable in _variables(item.name):
            words = [
                word
                for word in re.split(r"[^a-z]+", re.sub(r"(?<=[a-z])(?=[A-Z])", "_", variable).lower())
                if len(word) > 1
            ]
            telling = [word for word in words if word not in ("id", "name", "no", "key", "slug")] or words
            if telling and not any(
                word in said or word.rstrip("s") in said or f"{word}s" in said for word in telling
            ):
                yield RuleHit(
                    item.identity,
                    "/uriTemplate",
                    f"the description does not say what to put for {{{variable}}}",
                )


def _missing_mime(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind in ("resource", "template") and not item.item.body.get("mimeType"):
            message = "there is no MIME type; a host cannot tell how to show it"
            guessed = _TYPES.get(item.name.rpartition(".")[2].lower())
            patch = ({"op": "add", "path": "/mimeType", "value": guessed},) if guessed else None
            yield RuleHit(item.identity, "/mimeType", message, suggestion=patch)


def _unfit_mime(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        found = item.item.body.get("mimeType")
        if found and not (isinstance(found, str) and _MIME.fullmatch(found)):
            yield RuleHit(
                item.identity, "/mimeType", f"{found!r} is no MIME type; write one such as text/csv"
            )


def _local_path(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind in ("resource", "template") and _LOCAL.search(item.name):
            field = "uri" if item.item.kind == "resource" else "uriTemplate"
            yield RuleHit(
                item.identity,
                f"/{field}",
                "it names a place on one machine; use a scheme of the server's own",
            )


def _unnamed(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if item.item.kind in ("resource", "template") and not str(item.item.body.get("name") or "").strip():
            yield RuleHit(item.identity, "/name", f"the {item.item.kind} has no name; hosts list it by that")


def _unexplained_argument(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        arguments = item.item.body.get("arguments")
        if item.item.kind != "prompt" or not isinstance(arguments, list):
            continue
        for index, argument in enumerate(arguments):
            if isinstance(argument, dict) and not str(argument.get("description") or "").strip():
                yield RuleHit(
                    item.identity,
                    f"/arguments/{index}",
                    f"the argument `{argument.get('name')}` is not explained",
                )


def _resource(**more: str) -> dict[str, object]:
    tides = {
        "uri": "tides://today",
        "name": "tides",
        "description": "Tides of today, as a table",
        "mimeType": "text/csv",
    }
    return server(resources=[{name: value for name, value in {**tides, **more}.items() if value}])


def _template(uri: str, description: str = "Plan of one berth, by its number") -> dict[str, object]:
    return server(
        resourceTemplates=[
            {"uriTemplate": uri, "name": "plan", "description": description, "mimeType": "text/csv"}
        ]
    )


def _prompt(**argument: str) -> dict[str, object]:
    return server(
        prompts=[
            {"name": "brief", "description": "Brief the watch", "arguments": [{"name": "day", **argument}]}
        ]
    )


RULES = (
    Rule(
        id="unfit-uri",
        family="resources",
        covers=("uri-invalid",),
        level="error",
        reason="A host cannot ask for what is no address.",
        check=_unfit_uri,
        bad=_resource(uri="tides of today"),
        good=_resource(),
    ),
    Rule(
        id="unfit-uri-template",
        family="resources",
        covers=("template-invalid", "uri-invalid"),
        level="error",
        reason="A host cannot fill in what is no template.",
        check=_unfit_template,
        bad=_template("berths://{berth/plan"),
        good=_template("berths://{berth}/plan{?day,scale}"),
    ),
    Rule(
        id="unexplained-template-variable",
        family="resources",
        covers=("template-variable-unexplained",),
        level="warning",
        reason="A variable that no text explains is filled by guessing.",
        check=_unexplained_variable,
        bad=_template("berths://{zone}/plan", "Plan of a part of the harbour"),
        good=_template("berths://{berth_id}/plan"),
    ),
    Rule(
        id="missing-mime-type",
        family="resources",
        covers=("mime-missing",),
        level="warning",
        reason="Without its type a host cannot tell how to show a content, or whether to hand it to the model.",
        check=_missing_mime,
        bad=_resource(mimeType=""),
        good=_resource(),
    ),
    Rule(
        id="unfit-mime-type",
        family="resources",
        covers=("mime-invalid",),
        level="warning",
        reason="A type that is none is read as no type, or as the wrong one.",
        check=_unfit_mime,
        bad=_resource(mimeType="csv"),
        good=_resource(mimeType="text/csv; charset=utf-8"),
    ),
    Rule(
        id="local-path",
        family="resources",
        covers=("local-path",),
        level="warning",
        reason="An address on one machine means nothing on another, and tells of the inside of that one.",
        check=_local_path,
        bad=_resource(uri="file:///home/tomas/tides.csv"),
        good=_resource(),
    ),
    Rule(
        id="unnamed-resource",
        family="resources",
        covers=(),
        level="warning",
        reason="People and models are shown a resource by its name.",
        check=_unnamed,
        bad=_resource(name=""),
        good=_resource(),
    ),
    Rule(
        id="unexplained-prompt-argument",
        family="resources",
        covers=("prompt-argument-unexplained",),
        level="warning",
        reason="A person is asked for each argument, and sees its words alone.",
        check=_unexplained_argument,
        bad=_prompt(),
        good=_prompt(description="Day to brief on, such as 2026-06-01"),
    ),
)
