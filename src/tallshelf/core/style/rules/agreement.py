"""Rules on texts that tell what may be left out, defaults, examples and choices: whether the schema agrees."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from tallshelf.core.style.rule import Rule, RuleHit, Subject, at
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.rules._judge import refuses
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.amounts import amounts
from tallshelf.core.words.leaving_out import LEAVING_OUT, said_of_leaving_out
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.split import word_set
from tallshelf.core.words.units import known_unit

_DEFAULT = Pattern(
    r"\bdefault(?:s|ing)?(?:\s+value)?(?:\s+(?:is|to|of|being))?\s*[:=]?\s*[`'\"“]?(-?[A-Za-z0-9_][\w.+:/-]*)",
    re.IGNORECASE,
)
# A default said in other words: "a dozen unless told otherwise", "if nothing is said you get csv", "usually yes".
_UNSET = Pattern(
    r"\b(?:unless|if not|when not|where not) (?:you |the caller |it is )?(?:\w+ )?(?:told|given|said|say|set|asked|asks|chosen|choose|specified|"
    r"otherwise|switch|turn|another)\b|\b(?:in the absence of|without (?:it|this|(?:a|any) (?:choice|value|word))|usually)\b|"
    r"\b(?:if|where|when|who(?:ever)?|without|for)\b[^.,;]{0,60}\b(?:nothing|anything|no value|omitted|left (?:out|empty)|not given|absent|missing)\b",
    re.IGNORECASE,
)
_UNSET_WORDS = word_set(
    "unless without usually nothing anything absence choice omitted left given not otherwise absent missing value"
)
_USUAL = Pattern(r"\busually (yes|no|on|off)\b", re.IGNORECASE)
_GOT = Pattern(
    r"\b([\w-]+) (?:unless|if not|when not)\b|\b(?:you get|one gets|it is|uses?|is|are|means|counts as) ([\w-]+)\s*\.?$",
    re.IGNORECASE,
)
_LEAVES_OUT = Pattern(
    r"\b(?:stays? (?:behind|out|away)|(?:is|are) (?:left out|excluded|omitted|skipped|hidden|not (?:included|shown|sent))|without)\b",
    re.IGNORECASE,
)
_INCLUDES = (("include",), ("with",), ("show",), ("attach",), ("send",), ("return",), ("add",))
_LINKED = Pattern(r"(?:\b(?:is|to)|[:=])\s*[`'\"“]?$", re.IGNORECASE)
_BY_DEFAULT = Pattern(r"([A-Za-z0-9_.-]+) by default\b", re.IGNORECASE)
_NO_VALUE = word_set(
    "the a an current today now value values all any to is if when for none not in of at order sorting "
    "settings language unit"
)
_SUCH_AS = Pattern(
    r"(?:such as|e\.g\.,?|for example,?|for instance,?|example:)\s+([`'\"“]?)([^\s,;()`'\"”]+)", re.IGNORECASE
)
_SUCH_AS_WORDS = frozenset({"such", "g", "example", "instance"})


def _optional_or_required(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if parameter.required and parameter.depth == 1 and "default" in parameter.schema:
            message = (
                f"`{parameter.name}` has a default, and the schema requires it: the default is never used"
            )
            yield RuleHit(parameter.item.identity, parameter.pointer, message)
            continue
        if parameter.text.word_set.isdisjoint(LEAVING_OUT):
            continue
        said = said_of_leaving_out(parameter.text.text)
        if said is None or (said.how == "must") is parameter.required:
            continue
        if said.how == "must" and "default" in parameter.schema:
            continue
        told, schema = ("required", "does not") if said.how == "must" else ("optional", "requires it")
        message = f"the text calls `{parameter.name}` {told}, and the schema {schema}"
        yield at(parameter.text, message, (said.start, said.end))


def _default_contradicts(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if "efault" in parameter.text.text:
            yield from _said_default(parameter)
        if "default" in parameter.schema and not parameter.text.word_set.isdisjoint(_UNSET_WORDS):
            yield from _default_in_other_words(parameter)


def _said_default(parameter: Parameter) -> Iterator[RuleHit]:
    """Find a default that is called so: "defaults to 20", "20 by default"."""
    text = parameter.text.text
    match = _BY_DEFAULT.search(text) or _DEFAULT.search(text)
    said = match.group(1).strip(".:").lower() if match else ""
    if match is None or not said or said in _NO_VALUE or _goes_on(text, match):
        return
    if "default" in parameter.schema:
        default = parameter.schema["default"]
        if isinstance(default, str | int | float) and not _same(said, default):
            message = f"the text says that the default is {said}, and the schema says {_shown(default)}"
            yield at(parameter.text, message, match.span(1))
    elif _LINKED.search(text[: match.start(1)]) and _cannot_be(parameter, said):
        message = f"the default that the text gives, {said}, is none that `{parameter.name}` takes"
        yield at(parameter.text, message, match.span(1))


_LATER = Pattern(
    r" (?!(?:if|when|where|unless|for|and|or|but|which|that|so|in|as|with|to|since|because|is|was)\b)[a-z]{3,}"
)


def _goes_on(text: str, match: re.Match[str]) -> bool:
    """Whether a word that is called the default is the first of several: the session's directory is no value."""
    said = match.group(1)
    if amounts(said):
        return False
    quoted = text[: match.start(1)].endswith(("`", "'", '"', "“"))
    return said.isalpha() and said.islower() and not quoted and _LATER.match(text, match.end(1)) is not None


def _default_in_other_words(parameter: Parameter) -> Iterator[RuleHit]:
    """Find what the text says to hold where nothing is given, and the default is another.

    It is read where it can be no other thing: the one amount of the sentence, the one value of the enum that it names,
    yes or no, all, and what a switch that is on leaves out.
    """
    default = parameter.schema["default"]
    for sentence, start in sentences(parameter.text.text):
        if not _UNSET.search(sentence):
            continue
        said = _said_instead(parameter, sentence, default)
        if said:
            message = f"where nothing is given it is {said} by the text, and {_shown(default)} by the schema"
            yield at(parameter.text, message, (start, start + len(sentence.rstrip())))
            return


def _said_instead(parameter: Parameter, sentence: str, default: Any) -> str:
    """Return in words what a sentence says to hold instead of a default; empty where it does not."""
    values = parameter.schema.get("enum")
    if isinstance(default, bool):
        off = bool(_LEAVES_OUT.search(sentence)) and parameter.words[:1] in _INCLUDES
        usual = _USUAL.search(sentence)
        said = "no" if off else usual.group(1).lower() if usual else ""
        return said if said and (said in ("yes", "on")) is not default else ""
    if isinstance(default, int | float):
        found = amounts(sentence)
        own = next((unit for word in reversed(parameter.words) if (unit := known_unit(word))), None)
        if len(found) != 1 or found[0].value == default:
            return ""
        value = found[0].in_unit(own) if own else None
        if value is None and "percent" in parameter.words and found[0].value < 1:
            value = found[0].value * 100
        if value is None:
            value = found[0].value
        return "" if abs(value - default) <= abs(default) * 1e-6 else f"{value:g}"
    if isinstance(default, list):
        return "all" if default and re.search(r"\ball\b", sentence, re.IGNORECASE) else ""
    if isinstance(default, str):
        if isinstance(values, list):
            named = {
                str(value)
                for value in values
                if re.search(rf"\b{re.escape(str(value))}\b", sentence, re.IGNORECASE)
            }
            return named.pop() if len(named) == 1 and default not in named else ""
        got = _GOT.search(sentence)
        said = next((group for group in got.groups() if group), "") if got else ""
        return said if said and said.lower() not in _NO_VALUE and not _same(said.lower(), default) else ""
    return ""


_YES = frozenset(["true", "yes", "on", "enabled"])
_NO = frozenset(["false", "no", "off", "disabled", "none", "never"])


def _same(said: str, default: Any) -> bool:
    written = _shown(default).strip('"').lower()
    if isinstance(default, bool):
        if said not in _YES | _NO:
            return True  # a word for something else
        return said in (_YES if default else _NO)
    if isinstance(default, int | float):
        found = amounts(said.rstrip("%smhdk"))
        return len(found) != 1 or found[0].value == float(default) or _same_time(said, default)
    return written.startswith(said) or said.startswith(written) or not said[0].isalnum()


_TIMES = ("millisecond", "second", "minute", "hour", "day")


def _same_time(said: str, default: float) -> bool:
    """Whether a time is the default in a unit that times are counted in: 2h of 7200."""
    found = amounts(said)
    in_units = (found[0].in_unit(unit) for name in _TIMES if found and (unit := known_unit(name)))
    return any(value is not None and abs(value - default) < 1e-6 for value in in_units)


def _shown(value: Any) -> str:
    return {True: "true", False: "false"}.get(value, str(value)) if isinstance(value, bool) else str(value)


def _cannot_be(parameter: Parameter, said: str) -> bool:
    values = parameter.schema.get("enum")
    if isinstance(values, list) and values:
        return said not in {str(value).lower() for value in values}
    if parameter.types and parameter.types <= {"integer", "number"}:
        try:
            return refuses(parameter.schema, float(said) if "." in said else int(said))
        except ValueError:
            return False
    return False


def _example_refused(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.fields:
        for where, value in _examples(parameter.schema):
            if refuses(parameter.schema, value):
                yield RuleHit(
                    parameter.item.identity,
                    f"{parameter.pointer}{where}",
                    f"the example {value!r} is refused by the schema it is an example of",
                )
        if parameter.text.word_set.isdisjoint(_SUCH_AS_WORDS):
            continue
        narrowed = parameter.schema.keys() & {"pattern", "enum", "maxLength", "minLength"}
        numeric = bool(parameter.types) and parameter.types <= {"integer", "number"}
        match = None
        if (narrowed and parameter.types <= {"string"}) or numeric:
            match = _SUCH_AS.search(parameter.text.text)
        if match and numeric:
            if _is_number(match.group(2)) and _cannot_be(parameter, match.group(2).rstrip(".")):
                message = f"the example “{match.group(2)}” in the text is refused by the schema"
                yield at(parameter.text, message, match.span(2))
        elif match:
            value = match.group(2) if match.group(1) else match.group(2).rstrip(".")
            quoted = match.group(1) or re.search(r"[\dA-Z_-]", value)
            said = (value, _phrase(parameter.text.text, match))
            if quoted and all(refuses(parameter.schema, one_said) for one_said in said):
                message = f"the example “{value}” in the text is refused by the schema"
                yield at(parameter.text, message, match.span(2))


def _examples(schema: Mapping[str, Any]) -> Iterator[tuple[str, Any]]:
    examples = schema.get("examples")
    if isinstance(examples, list):
        yield from ((f"/examples/{index}", value) for index, value in enumerate(examples))
    if "example" in schema:
        yield "/example", schema["example"]


def _is_number(text: str) -> bool:
    return re.fullmatch(r"-?\d+(?:\.\d+)?\.?", text) is not None


def _phrase(text: str, match: re.Match[str]) -> str:
    """Return the example with the words that follow it, up to a stop."""
    return re.split(r"[,;()`'\"”]|\.(?:\s|$)|\s+(?:or|and)\s+", text[match.start(2) :])[0].strip()


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
)
