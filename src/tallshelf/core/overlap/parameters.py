"""The parameters of an item and the fields of its result, by what they stand for."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

from tallshelf.core.snapshot import Item
from tallshelf.core.words.meaning import meanings
from tallshelf.core.words.split import split_identifier, stem, word_set
from tallshelf.core.words.terms import NO_TERMS, HouseTerms

_OPTIONAL = 0.6
_SIDELINE = 0.35
_VARIABLES = re.compile(r"\{[+#./;?&]?([^{}]{1,200})\}")
_SAME_PARAMETERS = {
    "query": "query q search term keyword searchterm text query_string search_query keywords terms prompt question",
    "limit": "limit max_result num_result count num top_k page_size per_page size n max first number_of_result"
    " max_count maximum_result result_limit top maxresult",
    "page": "page offset cursor skip start page_token after page_number start_index start_cursor startat",
    "path": "path file file_name filename filepath file_path relative_path",
    "url": "url uri link href",
    "text": "message content body text",
    "lat": "lat latitude",
    "lng": "lng lon long longitude",
    "timezone": "tz timezone time_zone",
    "symbol": "symbol ticker",
    "sort": "sort sort_by order order_by sort_order",
    "format": "format output_format response_format",
    "to": "to recipient recipient_email",
}
_PARAMETERS = {word: key for key, words in _SAME_PARAMETERS.items() for word in words.split()}
_SIDELINES = frozenset(
    {"limit", "page", "sort", "format", "timeout", "field", "language", "verbose", "dry run"}
)
_NAMING = frozenset(map(stem, word_set("id ids key number no slug identifier iid uuid name names code ref")))


def parameters_of(item: Item, terms: HouseTerms = NO_TERMS) -> dict[str, tuple[str, bool]]:
    """Return the type of each parameter and whether it is required, by what it stands for."""
    if item.kind == "prompt":
        listed = item.body.get("arguments")
        return {
            parameter_key(one["name"], terms): ("string", one.get("required") is True)
            for one in (listed if isinstance(listed, list) else ())
            if isinstance(one, dict) and isinstance(one.get("name"), str)
        }
    if item.kind == "template":
        written = item.body.get("uriTemplate")
        found = _VARIABLES.findall(written) if isinstance(written, str) else []
        names = [name for one in found for name in one.split(",")]
        return {parameter_key(name.partition(":")[0].rstrip("*"), terms): ("string", False) for name in names}
    schema = item.body.get("inputSchema")
    required = schema.get("required") if isinstance(schema, dict) else None
    needed = set(map(str, required)) if isinstance(required, list) else set()
    return {
        parameter_key(name, terms): (_type(child), name in needed)
        for name, child in _properties(schema).items()
    }


def parameter_names(item: Item, terms: HouseTerms = NO_TERMS) -> dict[str, str]:
    """Return the parameters as they are called, by what they stand for."""
    listed = item.body.get("arguments") if item.kind == "prompt" else None
    if isinstance(listed, list):
        names = [one["name"] for one in listed if isinstance(one, dict) and isinstance(one.get("name"), str)]
    else:
        names = list(_properties(item.body.get("inputSchema")))
    return {parameter_key(name, terms): name for name in names}


def _properties(schema: Any) -> Mapping[str, Any]:
    found = schema.get("properties") if isinstance(schema, dict) else None
    return found if isinstance(found, dict) else {}


def parameter_key(name: str, terms: HouseTerms = NO_TERMS) -> str:
    """Return what a parameter stands for: ``issue_number`` and ``issueKey`` are the issue."""
    words = terms.words(split_identifier(name))
    whole = "_".join(map(stem, words))
    if whole in _PARAMETERS:
        return _PARAMETERS[whole]
    kept = list(words)
    while len(kept) > 1 and stem(kept[-1]) in _NAMING:
        kept.pop()
    again = "_".join(map(stem, kept))
    return _PARAMETERS.get(again, " ".join(meanings(tuple(kept))))


def _type(schema: Any) -> str:
    found = schema.get("type") if isinstance(schema, dict) else None
    if isinstance(found, list):
        found = next((one for one in found if one != "null"), None)
    if found in ("integer", "number"):
        return "number"
    if isinstance(found, str):
        return found
    members = schema.get("anyOf") if isinstance(schema, dict) else None
    for member in members if isinstance(members, list) else ():
        if isinstance(member, dict) and member.get("type") not in (None, "null"):
            return _type(member)
    return ""


def parameter_weight(key: str, required: bool) -> float:
    """Return how much a parameter says of the job, before its rarity."""
    return (1.0 if required else _OPTIONAL) * (_SIDELINE if key in _SIDELINES else 1.0)


def results_of(item: Item, terms: HouseTerms = NO_TERMS) -> frozenset[str]:
    """Return the fields of an item's result, the innermost ones, by what they stand for."""
    return frozenset(_result_names(item.body.get("outputSchema"), 0, terms))


def _result_names(schema: Any, depth: int, terms: HouseTerms) -> Iterable[str]:
    if not isinstance(schema, dict) or depth > 4:
        return
    for name, child in _properties(schema).items():
        inner = list(_result_names(child, depth + 1, terms))
        yield from inner or (parameter_key(name, terms),)
    yield from _result_names(schema.get("items"), depth + 1, terms)
