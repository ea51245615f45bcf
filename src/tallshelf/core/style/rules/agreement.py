"""Rules on texts that tell what may be left out, defaults, examples and choices: whether the schema agrees."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.style.rule import Rule, Spot, Subject, at
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.rules._judge import refuses
from tallshelf.core.style.rules.mentions import EXAMPLE_BEFORE
from tallshelf.core.style.text import Text
from tallshelf.core.style.view import Parameter
from tallshelf.core.words import is_stop_word, word_set

_OPTIONAL = re.compile(
    r"^\W*optional\b|[.;,]\s*optional\W*$|\bleave (?:it |this )?(?:empty|blank|out)\b|[(\[]optional[)\],;]|\bis optional\b|\b(?:may|can) be (?:left out|omitted|skipped)\b",
    re.IGNORECASE,
)
_REQUIRED = re.compile(
    r"[.;,]\s*(?:required|mandatory)\W*$|\byou must (?:provide|give|specify|supply|set|pass)\b|^\W*(?:required|mandatory)\b(?! (?:if|when|for|unless|only|by))|[(\[](?:required|mandatory)[)\]]"
    r"|\bis (?:required|mandatory)\b(?! (?:if|when|for|unless|only|by))|\bmust (?:always )?be (?:given|provided|specified|set)\b(?! (?:if|when|unless))",
    re.IGNORECASE,
)
_ASKED_WORDS = frozenset({"optional", "omitted", "left", "leave", "skipped", "required", "mandatory", "must"})
_DEFAULT = re.compile(
    r"\bdefault(?:s|ing)?(?:\s+value)?(?:\s+(?:is|to|of|being))?\s*[:=]?\s*[`'\"“]?(-?[A-Za-z0-9_][\w.+:/-]*)",
    re.IGNORECASE,
)
# A default said in other words: "a dozen unless told otherwise", "if nothing is said you get csv", "usually yes".
_UNSET = re.compile(
    r"\b(?P<said>[\w-]+) (?:unless|if not|when not) (?:you )?(?:told|given|said|say|set|asked|chosen|specified|otherwise)\b|"
    r"\b(?:if|where|when|without)\b[^.,;]{0,60}\b(?:nothing|say anything|a choice|left out|omitted|not given)\b[^.,;]{0,40}?,? "
    r"(?:you get|one gets|it is|uses?|is|are) (?P<got>[\w-]+)|\busually (?P<usual>yes|no|on|off)\b",
    re.IGNORECASE,
)
_UNSET_WORDS = word_set("unless usually nothing anything choice omitted left given not")
_BY_DEFAULT = re.compile(r"([A-Za-z0-9_.-]+) by default\b", re.IGNORECASE)
_NO_VALUE = word_set(
    "the a an current today now value values all any to is if when for none not in of at order sorting "
    "settings language unit"
)
_NUMBER_WORDS = {
    word: str(number)
    for number, word in enumerate(
        ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"]
    )
}
_NUMBER_WORDS |= {"twenty": "20", "thirty": "30", "fifty": "50", "hundred": "100", "thousand": "1000"}
_SUCH_AS = re.compile(
    r"(?:such as|e\.g\.,?|for example,?|for instance,?|example:)\s+([`'\"“]?)([^\s,;()`'\"”]+)", re.IGNORECASE
)
_SUCH_AS_WORDS = frozenset({"such", "g", "example", "instance"})
_QUOTED_LIST = re.compile(r"[`'\"“]([\w-]+)[`'\"”](?:\s*(?:,|/|\||or|and|,\s*or)\s*[`'\"“]([\w-]+)[`'\"”])+")
# "low, medium or high" as a whole text or after a colon, and three words or more in parentheses.
_LAST_LIST = re.compile(
    r"(?:(?:^|:\s*)([a-z][\w-]*(?:,\s*[a-z][\w-]*)+,?\s+or\s+[a-z][\w-]*)\W*$"
    r"|\(([a-z][\w-]*(?:,\s*[a-z][\w-]*){2,}(?:,?\s+or\s+[a-z][\w-]*)?)\))",
    re.IGNORECASE,
)
_PLAIN_LIST = re.compile(
    r"(?:one of|must be|can be|may be|either|allowed(?: values)?|possible(?: values)?|valid(?: values)?|values?|options?|choices?|"
    r"choose(?: from)?|accepts)(?: are| is)?\s*[:=]?\s*\(?((?:[a-z][\w-]*\s*(?:,\s*or\s+|,\s*|/|\||\s+or\s+)\s*)+[a-z][\w-]*)(?=\s*[.;)]|\s*$)",
    re.IGNORECASE,
)
_BARE_LIST = re.compile(
    r"(?:^|[(:]\s*)([a-z][\w-]*(?:\s*\|\s*[a-z][\w-]*){1,}|[a-z]\w*(?:/[a-z]\w*){2,})\s*[).]?\s*$",
    re.IGNORECASE,
)


def _optional_or_required(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if one.text.word_set.isdisjoint(_ASKED_WORDS) or one.depth > 1:
            continue
        found = _OPTIONAL.search(one.text.text)
        if found and one.required:
            yield at(
                one.text, f"the text calls `{one.name}` optional, and the schema requires it", found.span()
            )
        found = _REQUIRED.search(one.text.text)
        if found and not one.required and "default" not in one.schema:
            yield at(one.text, f"the text calls `{one.name}` required, and the schema does not", found.span())


def _default_contradicts(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        text = one.text.text
        found = (_BY_DEFAULT.search(text) or _DEFAULT.search(text)) if "efault" in text else None
        if not found and "default" in one.schema and not one.text.word_set.isdisjoint(_UNSET_WORDS):
            found = _UNSET.search(text)
        if not found:
            continue
        said = next(one for one in found.groups() if one).strip(".:").lower()
        said = _NUMBER_WORDS.get(said, said)
        if said in _NO_VALUE or not said:
            continue
        span = next(found.span(number) for number, one in enumerate(found.groups(), 1) if one)
        if "default" in one.schema:
            default = one.schema["default"]
            if isinstance(default, str | int | float) and not _same(said, default):
                yield at(
                    one.text,
                    f"the text says that the default is {said}, and the schema says {_shown(default)}",
                    span,
                )
        elif _cannot_be(one, said):
            yield at(
                one.text, f"the default that the text gives, {said}, is none that `{one.name}` takes", span
            )


_YES = frozenset(["true", "yes", "on", "enabled"])
_NO = frozenset(["false", "no", "off", "disabled", "none", "never"])


def _same(said: str, default: Any) -> bool:
    written = _shown(default).strip('"').lower()
    if isinstance(default, bool):
        if said not in _YES | _NO:
            return True  # a word for something else
        return said in (_YES if default else _NO)
    if isinstance(default, int | float):
        try:
            return float(said.rstrip("%smhdk")) == float(default)
        except ValueError:
            return True  # a word for a number that is not read here
    return written.startswith(said) or said.startswith(written) or not said[0].isalnum()


def _shown(value: Any) -> str:
    return {True: "true", False: "false"}.get(value, str(value)) if isinstance(value, bool) else str(value)


def _cannot_be(one: Parameter, said: str) -> bool:
    values = one.schema.get("enum")
    if isinstance(values, list) and values:
        return said not in {str(value).lower() for value in values}
    if one.types and one.types <= {"integer", "number"}:
        try:
            return refuses(one.schema, float(said) if "." in said else int(said))
        except ValueError:
            return False
    return False


def _example_refused(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.fields:
        for where, value in _examples(one.schema):
            if refuses(one.schema, value):
                yield Spot(
                    one.item.identity,
                    f"{one.pointer}{where}",
                    f"the example {value!r} is refused by the schema it is an example of",
                )
        if one.text.word_set.isdisjoint(_SUCH_AS_WORDS):
            continue
        narrowed = one.schema.keys() & {"pattern", "enum", "maxLength", "minLength"}
        numeric = bool(one.types) and one.types <= {"integer", "number"}
        found = None
        if (narrowed and one.types <= {"string"}) or numeric:
            found = _SUCH_AS.search(one.text.text)
        if found and numeric:
            if _is_number(found.group(2)) and _cannot_be(one, found.group(2).rstrip(".")):
                message = f"the example “{found.group(2)}” in the text is refused by the schema"
                yield at(one.text, message, found.span(2))
        elif found:
            value = found.group(2) if found.group(1) else found.group(2).rstrip(".")
            quoted = found.group(1) or re.search(r"[\dA-Z_-]", value)
            said = (value, _phrase(one.text.text, found))
            if quoted and all(refuses(one.schema, one_said) for one_said in said):
                message = f"the example “{value}” in the text is refused by the schema"
                yield at(one.text, message, found.span(2))


def _examples(schema: Mapping[str, Any]) -> Iterator[tuple[str, Any]]:
    examples = schema.get("examples")
    if isinstance(examples, list):
        yield from ((f"/examples/{index}", value) for index, value in enumerate(examples))
    if "example" in schema:
        yield "/example", schema["example"]


def _is_number(text: str) -> bool:
    return re.fullmatch(r"-?\d+(?:\.\d+)?\.?", text) is not None


def _phrase(text: str, found: re.Match[str]) -> str:
    """Return the example with the words that follow it, up to a stop."""
    return re.split(r"[,;()`'\"”]|\.(?:\s|$)|\s+(?:or|and)\s+", text[found.start(2) :])[0].strip()


def _choices_not_enum(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        text = one.text.text
        if not _may_list(one.text) or not one.is_free_text:
            continue
        for pattern in (_QUOTED_LIST, _PLAIN_LIST, _BARE_LIST, _LAST_LIST):
            found = pattern.search(text)
            if (
                not found
                or EXAMPLE_BEFORE.search(text[: found.start()])
                or "such as" in found.group()
                or "e.g." in found.group()
            ):
                continue
            values = _listed(
                found.group(0) if pattern is _QUOTED_LIST else found.group(1) or found.group(2),
                quoted=pattern is _QUOTED_LIST,
            )
            if (
                len(values) < 2
                or any(is_stop_word(value) for value in values)
                or any(len(value) > 30 for value in values)
            ):
                continue
            patch = ({"op": "add", "path": f"{one.pointer}/enum", "value": values},)
            message = f"the text lists what `{one.name}` may be ({', '.join(values[:5])}); say it as an enum"
            yield at(one.text, message, found.span(), suggestion=patch)
            break


def _may_list(text: Text) -> bool:
    said = text.text
    return "," in said or "|" in said or "/" in said or "or" in text.word_set


def _listed(text: str, *, quoted: bool) -> list[str]:
    if quoted:
        return list(dict.fromkeys(re.findall(r"[`'\"“]([\w-]+)[`'\"”]", text)))
    parts = (part.strip() for part in re.split(r",\s*or\s+|,|/|\||\s+or\s+", text))
    return list(dict.fromkeys(part for part in parts if part))


_SORT = {"type": "string", "enum": ["length", "depth"], "description": "What to sort by", "default": "length"}

RULES = (
    Rule(
        id="optional-or-required",
        family="words",
        covers=("optional-vs-required",),
        level="warning",
        reason="Where text and schema disagree, a model that believes the text is refused.",
        check=_optional_or_required,
        bad=tools(tool(required=("port",), port="Name of the port (optional)")),
        good=tools(
            tool(port="Name of the port (optional)", crew="Skills that are required on board, as text")
        ),
    ),
    Rule(
        id="default-contradicts",
        family="words",
        covers=("default-contradicts",),
        level="warning",
        reason="A model leaves a parameter out because of the default that it read.",
        check=_default_contradicts,
        bad=takes(order={**_SORT, "description": "What to sort by; defaults to depth"}),
        good=takes(order={**_SORT, "description": "What to sort by; defaults to length"}),
    ),
    Rule(
        id="example-refused",
        family="schemas",
        covers=("example-refused", "default-contradicts"),
        level="warning",
        reason="A model copies examples; one that the schema refuses is an error it was taught.",
        check=_example_refused,
        bad=takes(
            berth={"type": "string", "pattern": "^[NE]-\\d\\d$", "description": "Berth number, such as W-4"}
        ),
        good=takes(
            berth={"type": "string", "pattern": "^[NE]-\\d\\d$", "description": "Berth number, such as N-04"}
        ),
    ),
    Rule(
        id="choices-not-enum",
        fix_is_safe=False,
        family="words",
        covers=("choices-not-enum",),
        level="warning",
        reason="Choices that only the text lists are not checked, and are spelled in many ways.",
        check=_choices_not_enum,
        bad=takes(side="Side to moor at, one of: port, starboard, stern"),
        good=takes(
            port="Name of the port, such as Pellam or Skerry",
            side={**_SORT, "description": "One of length, depth"},
        ),
    ),
)
