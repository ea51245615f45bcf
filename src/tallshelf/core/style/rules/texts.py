"""Rules on descriptions of items: whether they are there, whole, and say something."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Setting, Subject, at
from tallshelf.core.style.rules._examples import says, takes, tool, tools
from tallshelf.core.style.text import Text
from tallshelf.core.style.view import ItemView, Parameter
from tallshelf.core.words.breaking_off import breaks_off
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import sentence_words, stem, telling_words, word_set

FEWEST = Setting("short-description", "fewest_words", 4, "words that a tool's description has at least")
MOST = Setting("long-description", "most_words", 200, "words that a description has at most")
_SAYS_FORM = word_set(
    "enum format pattern const minimum maximum minLength maxLength oneOf anyOf properties items examples example"
)
"""Keywords by which a schema itself says what a value looks like."""
_NO_TEXT = frozenset({"description", "string", "text", "none", "null", "test", "foo", "tool", "?"})
_READING = frozenset({"get", "fetch", "read", "retrieve", "query", "compute", "calculate"})
_TELLS_RESULT = Pattern(r"\b(?:return|give|list|contain|includ|with)")
_FILLERS = frozenset(
    map(
        stem,
        [
            "tool",
            "function",
            "method",
            "endpoint",
            "this",
            "simply",
            "allow",
            "allows",
            "lets",
            "call",
            "api",
        ],
    )
)


def _missing_description(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        if not item.text.text.strip():
            message = f"the {item.item.kind} has no description; say what it does, what it returns and when to use it"
            yield RuleHit(item.identity, "/description", message)


def _short_description(subject: Subject) -> Iterator[RuleHit]:
    fewest = subject.of(FEWEST)
    for item in subject.view.tools:
        words = item.text.words
        if words and len(words) < fewest:
            said = f"{len(words)} words do" if len(words) > 1 else "1 word does"
            message = f"{said} not tell it from its neighbours; say what it works on and returns"
            yield at(item.text, message)


def _long_description(subject: Subject) -> Iterator[RuleHit]:
    most = subject.of(MOST)
    for text in subject.view.texts:
        if len(text.words) > most:
            yield at(
                text,
                f"{len(text.words)} words; what a chooser needs fits into {most}, the rest belongs in a resource",
            )


_SAYS_WHOSE = frozenset([("code", "of"), ("name", "of"), ("number", "of")])


def _repeats_name(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.items:
        told_as_short = item.item.kind == "tool" and len(item.text.words) < subject.of(FEWEST)
        if not told_as_short and _repeats(item):
            yield at(
                item.text,
                f"“{item.text.text.strip()}” says what the name says; add what it returns and when to use it",
            )
    yield from (hit for said, hit in _repeated(subject) if said)


def _repeats(item: ItemView) -> bool:
    """Whether an item's text says its name once more, and nothing else tells what it returns."""
    tells_result = any(field.depth == 1 and field.text.text for field in item.results)
    words = {stem(word) for word in item.words}
    return item.item.kind in ("tool", "prompt") and not tells_result and _says_only(item.text, words)


def _repeats_parameter(subject: Subject) -> Iterator[RuleHit]:
    """Yield parameters whose text says whose code, name or number they are, and no more."""
    yield from (hit for said, hit in _repeated(subject) if not said)


def _repeated(subject: Subject) -> Iterator[tuple[bool, RuleHit]]:
    """Yield parameters whose text says no more than their name, each with whether it is not even whose it is."""
    for field in subject.view.parameters:
        if not _says_only(field.text, {stem(word) for word in field.words}):
            continue
        if field.schema.keys().isdisjoint(_SAYS_FORM) and not field.types <= {"boolean"}:
            message = f"“{field.text.text.strip()}” says what `{field.name}` says; add what it looks like"
            yield field.text.words[:2] not in _SAYS_WHOSE, at(field.text, message)


def _says_only(text: Text, words: set[str]) -> bool:
    if not 0 < len(text.words) <= 12 or text.has_digit:
        return False
    said = False
    for word in telling_words(text.words):
        if word in _FILLERS:
            continue
        if word not in words:
            return False
        said = True
    return said or len(text.words) < 4


def _placeholder(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts:
        if _is_no_text(text):
            yield at(
                text, f"“{text.text.strip()[:20]}” is a placeholder; write the real text", (0, len(text.text))
            )
    # The longest word of each says at a glance whether it can be there.
    placeholders = [(word, max(sentence_words(word), key=len)) for word in subject.style.words.placeholders]
    for text in subject.view.texts.holding(frozenset(telling for _, telling in placeholders)):
        if _is_no_text(text):
            continue
        for word in (word for word, telling in placeholders if telling in text.word_set):
            start = text.lower.find(word)
            if start >= 0 and _stands_alone(text.text, start, len(word)):
                yield at(text, f"“{word}” is a placeholder; write the real text", (start, start + len(word)))
                break


def _is_no_text(text: Text) -> bool:
    """Whether signs, or a word such as none, stand where a text should."""
    if len(text.words) > 1 or not text.text.strip():
        return False
    return not text.words or text.lower.strip(" .:") in _NO_TEXT


_SENTENCE = 6
"""Words of a text in which a placeholder may be what is spoken of: "a placeholder is shown instead"."""


def _stands_alone(text: str, start: int, length: int) -> bool:
    """Whether a word is one of its own, and not quoted as a word that the tool works on."""
    before, after = text[start - 1 : start], text[start + length : start + length + 1]
    if (
        before.isalnum()
        or after.isalnum()
        or before in ("`", '"', "'", "“", "_", "-")
        or after in ("_", "-", "`")
    ):
        return False
    whole = text.strip(" .:!-")
    spoken_of = text[start : start + length].isalpha() and len(whole.split()) > _SENTENCE
    return (
        text[start : start + length].isupper()
        or len(whole.split()) <= 3
        or after == ":"
        or (length > 5 and not spoken_of)
    )


def _identical(subject: Subject) -> Iterator[RuleHit]:
    same: dict[tuple[str, str], dict[str, ItemView]] = defaultdict(dict)
    for item in subject.view.items:
        kind = "resource" if item.item.kind == "template" else item.item.kind
        if said := " ".join(item.text.words):
            same[kind, said].setdefault(item.name, item)  # one address may be a resource and a template
    for members in map(list, map(dict.values, same.values())):
        for item in members[1:]:
            yield at(item.text, f"`{members[0].name}` {_SAME}")
        if len(members) > 1:
            yield at(members[0].text, f"`{members[1].name}` {_SAME}")


_SAME = "is described in the same words; say what tells the two apart"


def _cut_off(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts:
        said = text.text.rstrip()
        if len(said) < 8 or text.pointer.endswith("/title"):
            continue
        if breaks_off(said, text.words, names_a_thing=text.pointer != "/description"):
            message = f"the text breaks off at “…{said[-24:]}”"
            yield at(text, message, (max(0, len(said) - 12), len(said)))


def _banned(subject: Subject) -> Iterator[RuleHit]:
    for term, instead in subject.style.words.banned.items():
        pattern = re.compile(rf"\b{re.escape(term)}(s?)\b", re.IGNORECASE)
        for text in subject.view.texts:
            match = pattern.search(text.text)
            if match:
                written = f"{text.text[: match.start()]}{instead}{match.group(1)}{text.text[match.end() :]}"
                patch = ({"op": "replace", "path": text.pointer, "value": written},)
                yield at(
                    text, f"the house says “{instead}”, not “{match.group()}”", match.span(), suggestion=patch
                )


def _result_not_told(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        reads = bool(item.words) and item.words[0] in _READING
        brief = item.text.words and "outputSchema" not in item.item.body and len(item.text.words) < 8
        if reads and brief and not _TELLS_RESULT.search(item.text.lower):
            yield at(item.text, "it does not say what it returns")


def _untrimmed(subject: Subject) -> Iterator[RuleHit]:
    for text in subject.view.texts:
        if text.text and text.text != text.text.strip():
            patch = ({"op": "replace", "path": text.pointer, "value": text.text.strip()},)
            yield at(text, "there is white space around the text", suggestion=patch)


def _undescribed_parameter(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if (
            parameter.depth == 1
            and not parameter.text.text.strip()
            and "const" not in parameter.schema
            and not parameter.told_above
        ):
            yield RuleHit(
                parameter.item.identity,
                parameter.pointer,
                f"the parameter `{parameter.name}` is not described; a model will guess",
            )
    yield from _odd_ones_out(subject)


def _odd_ones_out(subject: Subject) -> Iterator[RuleHit]:
    """Yield members of nested objects that are not described where others beside them are."""
    beside: dict[tuple[str, str], list[Parameter]] = defaultdict(list)
    for parameter in subject.view.fields:
        if parameter.depth > 1:
            beside[parameter.item.identity, parameter.pointer.rpartition("/")[0]].append(parameter)
    for members in beside.values():
        if not any(parameter.text.text.strip() for parameter in members):
            continue
        for parameter in members:
            if not parameter.text.text.strip() and parameter.schema.keys().isdisjoint(_SAYS_FORM | {"$ref"}):
                message = (
                    f"`{parameter.path}` is not described, and what stands beside it is; a model will guess"
                )
                yield RuleHit(parameter.item.identity, parameter.pointer, message)


_TOOLS = tools(tool("list_berths", "Lists what is there."), tool("list_vessels", "Lists what is there."))

RULES = (
    Rule(
        id="missing-description",
        family="words",
        covers=("description-missing",),
        level="warning",
        reason="The description is all that a model has to tell one tool from another.",
        check=_missing_description,
        bad=tools(tool(description=None)),
        good=tools(tool()),
    ),
    Rule(
        id="short-description",
        family="words",
        covers=("description-too-short", "only-repeats-name"),
        level="warning",
        reason="A few words do not say what is worked on, what comes back and when to use it.",
        check=_short_description,
        settings=(FEWEST,),
        bad=says("Lists berths."),
        good=says("List the free berths of one port."),
    ),
    Rule(
        id="long-description",
        family="words",
        covers=("description-too-long",),
        level="warning",
        reason="Every word is read at every choice; a manual belongs in a resource.",
        check=_long_description,
        settings=(MOST,),
        bad=says("List the berths of one port. " + "It is very long. " * 60),
        good=tools(tool()),
    ),
    Rule(
        id="repeats-the-name",
        family="words",
        covers=("only-repeats-name",),
        level="warning",
        reason="A text that says the name again tells a model nothing new.",
        check=_repeats_name,
        bad=says("This tool lists the berths."),
        good=tools(tool()),
    ),
    Rule(
        id="repeats-the-parameter",
        family="words",
        covers=("only-repeats-name",),
        level="note",
        reason="Where a name says all there is, its text may; most names leave out what the value looks like.",
        check=_repeats_parameter,
        bad=takes(berth_code="Code of the berth."),
        good=takes(berth_code="Code of the berth, as painted on the quay."),
    ),
    Rule(
        id="placeholder-text",
        family="words",
        covers=("placeholder",),
        level="warning",
        reason="A text that was never written tells the model nothing, and readers that nobody looked.",
        check=_placeholder,
        bad=says("TODO"),
        good=tools(tool("add_todos", "Add todos to the list of a shift. Returns their numbers.")),
    ),
    Rule(
        id="identical-descriptions",
        family="words",
        covers=("identical-descriptions",),
        level="warning",
        reason="Of two tools with one text a model picks one by chance.",
        check=_identical,
        bad=_TOOLS,
        good=tools(tool("list_berths"), tool("list_vessels", "List the vessels that lie in one port now.")),
    ),
    Rule(
        id="cut-off-text",
        family="words",
        covers=("cut-off",),
        level="warning",
        reason="What a text was about to say is missing.",
        check=_cut_off,
        bad=says("List the berths of one port, with their length and"),
        good=says("List the berths of one port, such as N-01, N-02, …"),
    ),
    Rule(
        id="banned-term",
        family="words",
        covers=(),
        level="warning",
        reason="The house calls one thing by one word, so that texts of different teams read alike.",
        check=_banned,
        bad=says("List the moorings of one port with their length in metres. Returns at most fifty."),
        good=tools(tool()),
    ),
    Rule(
        id="result-not-told",
        family="words",
        covers=(),
        level="note",
        reason="A model that does not know what comes back cannot plan with it.",
        check=_result_not_told,
        bad=tools(tool("get_berth", "Berth lookup by its number")),
        good=tools(tool("get_berth", "Get a berth's length and depth, in metres, by its number.")),
    ),
    Rule(
        id="untrimmed-text",
        family="words",
        covers=(),
        level="note",
        reason="White space around a text costs bytes and makes differences that nobody sees.",
        check=_untrimmed,
        bad=says("  List the berths of one port.\n"),
        good=says("List the berths of one port."),
    ),
    Rule(
        id="undescribed-parameter",
        family="words",
        covers=("param-undescribed",),
        level="warning",
        reason="Parameters are filled by their words; one without any is filled by guessing. A line of its own in the tool's "
        "text, as of a docstring, will do.",
        check=_undescribed_parameter,
        bad=takes(ref={"type": "string"}),
        good=takes(ref="Staff number, such as C-0412"),
    ),
)
