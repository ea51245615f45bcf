"""Rules on annotations: what writes says so, and no hint contradicts name or text."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import tool, tools
from tallshelf.core.style.view import ItemView
from tallshelf.core.words.acts import (
    changes,
    is_light,
    is_look,
    lead_verb,
    says_for_good,
    says_it_is_written_out,
    says_it_only_reads,
    says_it_writes,
    says_of_outside,
    says_of_repeating,
    says_only_adds,
    says_what_becomes,
)
from tallshelf.core.words.classes import verb_class, writes
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.split import stem, word_set

# Beside the verbs of the words' classes of work; those that more often name a thing or a way are left out.
_ALSO_WRITING = word_set(
    "overwrite archive unassign approve reject reserve pay refund transfer enable disable deploy restart reboot"
    " terminate kill merge upsert reset enroll subscribe unsubscribe grant deny block unblock reopen schedule"
    " reschedule unpublish deactivate activate hire fire order"
)
_OFTEN_A_THING = word_set("open file new make run begin")
_DESTROYING = word_set("delete remove drop erase purge destroy wipe terminate kill truncate overwrite clear")
_NOT_ALONE = word_set(
    "post order book issue release schedule set reset move close import archive clear block change fire "
    "transfer"
)
_QUESTIONS = word_set("query queries search searches check checks lookup report select count")
_MAY_WRITE = _DESTROYING | word_set(
    "insert update create alter write modify change set sql statement command"
)
_HINTS = ("readOnlyHint", "destructiveHint")


def _unannotated_write(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        said = "" if any(hint in item.annotations for hint in _HINTS) else _changing(item)
        if said:
            destroys = item.words[0] in _DESTROYING
            hints = {"readOnlyHint": False, "destructiveHint": destroys}
            if "annotations" in item.item.body:
                patch = tuple(
                    {"op": "add", "path": f"/annotations/{hint}", "value": value}
                    for hint, value in hints.items()
                )
            else:
                patch = ({"op": "add", "path": "/annotations", "value": hints},)
            message = f"its {said}, and no annotation says that it changes something"
            yield RuleHit(
                item.identity,
                "/annotations" if "annotations" in item.item.body else "",
                message,
                suggestion=patch,
            )


def _writes(item: ItemView) -> bool:
    words = item.words
    if not words or words[0] in _OFTEN_A_THING or (len(words) == 1 and words[0] in _NOT_ALONE):
        return False
    return words[0] in _ALSO_WRITING or writes(words[0])


_SWITCHES = (("save",), ("force",), ("persist",), ("commit",), ("overwrite",), ("apply",), ("store",))
_SURELY = 0.9
_TELLS = frozenset(
    ["list", "return", "show", "tell", "report", "demonstrate", "describe", "explain", "display"]
)
"""Verbs by which a text says that a tool only tells something, whatever the first word of its name may be."""


def _changing(item: ItemView) -> str:
    """Return in words by what a tool seems to change something: its name, or the verb that leads its text."""
    text = item.text.text
    lead = lead_verb(text)
    if not item.words or says_it_only_reads(text):
        return ""
    name = item.words[0]
    if lemma(lead) in _TELLS and verb_share(lemma(name)) < _SURELY:
        return "text tells of a change" if says_it_writes(text) else ""
    if (_writes(item) and not _names_a_thing(item, lead)) or (
        not lead and changes(name) and name not in _OFTEN_A_THING and len(item.words) > 1
    ):
        return f"name says “{name}”"
    if (
        lead
        and not says_it_is_written_out(text)
        and (not is_look(name) or item.words[1:2] in (["in"], ["out"], ("in",), ("out",)))
        and (changes(lead, leads=True) or (is_light(lead) and not _tells_a_result(item)))
    ):
        return f"text says “{lead}”"
    return "text tells of a change" if says_it_writes(text) or says_what_becomes(text) else ""


def _names_a_thing(item: ItemView, lead: str) -> bool:
    """Whether the first word of a name is a thing there: "block reasons", whose text tells of reasons."""
    name = item.words[0]
    if len(item.words) < 2 or "n" not in parts(name) or lemma(lead) == name or not item.text.text:
        return False
    return (not lead or is_look(lead)) and _tells_a_result(item)


def _tells_of(item: ItemView) -> bool:
    """Whether the first word of a name may be a thing, and the text says that it is told: "release notes"."""
    name = item.words[0]
    return (
        len(item.words) > 1
        and "n" in parts(name)
        and lemma(lead_verb(item.text.text)) in _TELLS - {lemma(name)}
    )


def _executes_a_question(item: ItemView) -> bool:
    """Whether what is executed by its name may only ask: a query, a search, a check, and no text says more."""
    return (
        item.words[0] == "execute"
        and not _QUESTIONS.isdisjoint(item.words[1:])
        and _MAY_WRITE.isdisjoint(map(lemma, item.text.words))
    )


def _tells_a_result(item: ItemView) -> bool:
    return any(field.depth == 1 for field in item.results)


def _hint(item: ItemView, name: str, message: str, meant: bool) -> RuleHit:
    pointer = f"/annotations/{name}"
    patch = ({"op": "replace", "path": pointer, "value": meant},)
    return RuleHit(item.identity, pointer, message, suggestion=patch)


def _contradicting_annotation(subject: Subject) -> Iterator[RuleHit]:
    for item in subject.view.tools:
        hints = item.annotations
        first = item.text.words[0] if item.text.words else ""
        reads = hints.get("readOnlyHint") is True
        by_name = _writes(item) and not _tells_of(item) and not _executes_a_question(item)
        if reads and (
            by_name
            or (
                first != stem(first)
                and stem(first) in _DESTROYING | {"create", "updat", "send"}
                and first.endswith("s")
            )
        ):
            verb, where = (item.words[0], "name") if by_name else (first, "text")
            work = verb_class(stem(verb)) or verb_class(verb) or "change"
            message = (
                f"it says that it only reads, but its {where} says “{verb}” ({work}); "
                "hosts let read-only tools run unasked"
            )
            yield _hint(item, "readOnlyHint", message, False)
        elif (
            hints.get("destructiveHint") is False
            and item.words
            and item.words[0] in _DESTROYING
            and len(item.words) > 1
        ):
            message = f"it says that it destroys nothing, and its name says “{item.words[0]}”"
            yield _hint(item, "destructiveHint", message, True)
        elif reads and hints.get("destructiveHint") is True:
            yield RuleHit(
                item.identity,
                "/annotations/destructiveHint",
                "it says that it only reads, and that it destroys",
            )
        elif hints.get("readOnlyHint") is False and says_it_only_reads(item.text.text) and not _writes(item):
            yield RuleHit(
                item.identity,
                "/annotations/readOnlyHint",
                "its text says that it only reads, and the annotation that it does not",
            )
        else:
            yield from _contradicted_by_text(item)


def _switch(item: ItemView) -> str:
    """Return the parameter by which a call may be made to change something: it saves, forces, or goes without trial."""
    for field in item.own:
        off = field.schema.get("default") is False
        if "boolean" in field.types and (
            (field.words[:1] in _SWITCHES and "cache" not in field.words)
            or (off and "_".join(field.words) in ("dry_run", "preview_only"))
        ):
            return field.name
    return ""


def _contradicted_by_text(item: ItemView) -> Iterator[RuleHit]:
    """Yield hints against which the text says something."""
    hints, text = item.annotations, item.text.text
    if not hints:
        return
    if hints.get("readOnlyHint") is True and (switch := _switch(item)):
        yield _hint(
            item,
            "readOnlyHint",
            f"it says that it only reads, and `{switch}` makes it change something",
            False,
        )
        return
    if hints.get("readOnlyHint") is True and says_it_writes(text) and not says_it_only_reads(text):
        yield _hint(
            item, "readOnlyHint", "it says that it only reads, and its text that something is changed", False
        )
    if hints.get("destructiveHint") is False and says_for_good(text):
        yield _hint(
            item,
            "destructiveHint",
            "it says that it destroys nothing, and its text that it cannot be undone",
            True,
        )
    if hints.get("destructiveHint") is True and says_only_adds(text):
        yield _hint(
            item, "destructiveHint", "it says that it destroys, and its text that it only adds", False
        )
    for hint, asked, said in _TOLD:
        meant = asked(text) if isinstance(hints.get(hint), bool) else None
        if meant is not None and meant is not hints[hint]:
            yield _hint(item, hint, f"its text says that {said[meant]}", meant)


_TOLD: tuple[tuple[str, Callable[[str], bool | None], dict[bool, str]], ...] = (
    (
        "idempotentHint",
        says_of_repeating,
        {True: "the same call again does nothing more", False: "the same call again does it once more"},
    ),
    (
        "openWorldHint",
        says_of_outside,
        {True: "it reaches the outside", False: "it reaches nothing outside"},
    ),
)

RULES = (
    Rule(
        id="unannotated-write",
        family="safety",
        covers=("write-unannotated",),
        level="warning",
        reason="Hosts ask a person first where an annotation says that a tool writes or deletes.",
        check=_unannotated_write,
        bad=tools(tool("delete_booking")),
        good=tools(
            tool("delete_booking", annotations={"readOnlyHint": False, "destructiveHint": True}),
            tool("list_berths"),
        ),
    ),
    Rule(
        id="contradicting-annotation",
        fix_is_safe=False,
        family="safety",
        covers=("annotation-contradicts",),
        level="error",
        reason="Hosts decide by annotations whether to ask a person first.",
        check=_contradicting_annotation,
        bad=tools(tool("delete_booking", annotations={"readOnlyHint": True})),
        good=tools(tool("get_booking", annotations={"readOnlyHint": True})),
    ),
)
