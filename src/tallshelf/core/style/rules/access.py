"""Rules on what a tool is handed and may do: credentials, raw commands, writing unasked, personal data."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, Spot, Subject
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.view import ItemView
from tallshelf.core.words import split_identifier, stem, verb_class, word_set, writes
from tallshelf.core.words.acts import (
    changes,
    is_look,
    lead_verb,
    says_for_good,
    says_it_only_reads,
    says_it_writes,
    says_of_outside,
    says_of_repeating,
    says_only_adds,
)
from tallshelf.core.words.lexicon import lemma, verb_share

_CREDENTIALS = re.compile(
    r"^(?:(?:user|admin|login|account|root|db|database|client|auth|api|access|secret|private|bearer|session|refresh|my|service|ssh|oauth|jwt|github|aws)_)*"
    r"(?:password|passwd|passphrase|pwd|credentials?|secret|secret_key|api_?key|access_?key|private_?key|auth_?token|access_?token|bearer_?token|session_?token|refresh_token|client_secret|ssh_?key|api_token|auth_header|authorization|pin_code|otp|cvv|card_number)$"
)
_TEXT_OF_CREDENTIAL = re.compile(
    r"\b(?i:api|access|bearer|auth\w*|secret|login|session)[ -]?(?i:token|key)\b|\bPIN of (?:the|a|your) card|\bcard's PIN"
)
_SAYS_CREDENTIAL = re.compile(
    r"\b(?:PIN|passcode|passphrase|password|one-time (?:code|password)) (?:of|for|with which|to)\b|\bsecret word\b|\bauthorization header\b|"
    r"\bcookie (?:line|header|from)\b|\bsecurity question\b|\b(?:three|four) digits on the back\b|\buser:password\b|"
    r"\b(?:signing|shared) secret\b|\bthat authori[sz]es the (?:payment|transfer)\b|\bchip card, read out\b|\bfrom (?:the|your|an?) authenticator\b",
    re.IGNORECASE,
)
_CREDENTIAL_WORDS = word_set(
    "pin passcode passphrase password code secret authorization cookie security digits user authorises authorizes chip"
    " authenticator"
)
_NOT_CREDENTIALS = re.compile(
    r"\b(?:page|pagination|cursor|continuation|hash of|name of|reference to|public)\b", re.IGNORECASE
)
_COMMANDS = re.compile(
    r"^(?:(?:shell|bash|raw|sql|system|os|cmd|powershell|terminal|db|database|native|graphql|python|js|javascript)_)*"
    r"(?:command|cmd|commandline|command_line|shell|bash|sql|sql_query|raw_sql|sql_statement|script|code|expression_code|eval|exec|raw_query|shell_script|statement|file_?path|filepath|path|absolute_path|file_name_or_path)$"
)
_COMMAND_TEXT = re.compile(
    r"\b(?:shell|bash|terminal|command[- ]line|os|system)\s+command|\bsql\s+(?:query|statement|to (?:run|execute))|\b(?:code|script|command|statement|expression)\s+to\s+(?:run|execute|evaluate)|\b(?:run|executed?|evaluated?)\s+(?:as is|verbatim|on the (?:server|host|machine|database)|in a shell)"
    r"|\b(?:sent|forwarded|taken over|passed on|arrives?|handed on|compiled and run|run|executed|evaluated|expanded)\b[^.]{0,60}\b(?:unchanged|as (?:it is|written|is)|without (?:inspection|checks?|a time limit)|against the|for each|by the template engine|each tick)"
    r"|\bwhat comes after where\b|\b(?:javascript|python|lua|lambda|groovy|perl|ruby)\b[^.]{0,40}\b(?:run|runs|executed|evaluated|body)|\b(?:lua|javascript|python) that runs\b|\bbody of a lambda\b|\bany host\b|\bin the (?:printer|device|machine)['’]s own language\b"
    r"|\b(?:absolute|any|full|local|server)\s+(?:file\s+)?path|\bpath (?:of|to) (?:the|a|any) (?:local )?file|\braw sql\b|\bsql (?:condition|clause|where|expression|fragment|text)\b|\b(?:any|every) file (?:on|of|in) (?:the|this) (?:server|host|machine|disk)",
    re.IGNORECASE,
)
# One of these stands in every text that the pattern finds something in.
_COMMAND_WORDS = word_set(
    "command commands sql run runs execute executes executed evaluate evaluates evaluated path paths file files"
    " unchanged inspection tick lambda lua javascript python groovy perl ruby host engine sent forwarded taken passed"
    " arrives handed compiled expanded where own"
)
_NARROW = frozenset({"enum", "const", "format"})
_CODES = re.compile(
    r"\b(?:such as|e\.g\.|postal|country|port|currency|language|booking|product|status|zip|error|area|promo|iata|iso|discount|number|json ?path|url path|uri)\b",
    re.IGNORECASE,
)
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
_HINTS = ("readOnlyHint", "destructiveHint")
_PERSONAL = word_set(
    "birthday birthdate passport ssn salary health diagnosis disability religion ethnicity iban "
    "nationality fingerprint biometric medical allergy"
)
_PERSONAL_PAIRS = frozenset(
    {("date", "birth"), ("home", "address"), ("social", "security"), ("bank", "account"), ("next", "kin")}
)
_OPEN_CLASSES = frozenset({"public", "internal"})


def _credential(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        name = "_".join(one.words)
        said = name in ("token", "key", "pin", "auth") and _TEXT_OF_CREDENTIAL.search(one.text.text)
        if not one.text.word_set.isdisjoint(_CREDENTIAL_WORDS):
            said = said or _SAYS_CREDENTIAL.search(one.text.text)
        if (
            (said or _CREDENTIALS.match(name))
            and not one.types & {"boolean", "integer"}
            and not _NOT_CREDENTIALS.search(one.text.text)
        ):
            message = f"`{one.path}` asks the model for a credential; let the server hold it, or take it from a header"
            yield Spot(one.item.identity, one.pointer, message)


def _raw_command(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.parameters:
        if "string" not in one.types or not one.schema.keys().isdisjoint(_NARROW):
            continue
        name = "_".join(one.words)
        speaks = not one.text.word_set.isdisjoint(_COMMAND_WORDS)
        said = _COMMAND_TEXT.search(one.text.text) if speaks else None
        plain_name = name in ("code", "path", "statement", "script", "expression")
        if said or (
            _COMMANDS.match(name)
            and not (plain_name and _CODES.search(one.text.text))
            and "pattern" not in one.schema
        ):
            message = f"`{one.path}` is run or opened as it comes; take the parts it is made of, or bound it"
            yield Spot(one.item.identity, one.pointer, message)


def _unannotated_write(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        said = "" if any(hint in one.annotations for hint in _HINTS) else _changing(one)
        if said:
            destroys = one.words[0] in _DESTROYING
            hints = {"readOnlyHint": False, "destructiveHint": destroys}
            if "annotations" in one.item.body:
                patch = tuple(
                    {"op": "add", "path": f"/annotations/{hint}", "value": value}
                    for hint, value in hints.items()
                )
            else:
                patch = ({"op": "add", "path": "/annotations", "value": hints},)
            message = f"its {said}, and no annotation says that it changes something"
            yield Spot(
                one.identity,
                "/annotations" if "annotations" in one.item.body else "",
                message,
                suggestion=patch,
            )


def _writes(one: ItemView) -> bool:
    words = one.words
    if not words or words[0] in _OFTEN_A_THING or (len(words) == 1 and words[0] in _NOT_ALONE):
        return False
    return words[0] in _ALSO_WRITING or writes(words[0])


_SURELY = 0.9
_TELLS = frozenset(["list", "return", "show", "tell", "report"])
"""Verbs by which a text says that a tool only tells something, whatever the first word of its name may be."""


def _changing(one: ItemView) -> str:
    """Return in words by what a tool seems to change something: its name, or the verb that leads its text."""
    text = one.text.text
    lead = lead_verb(text)
    if not one.words or says_it_only_reads(text):
        return ""
    name = one.words[0]
    if lemma(lead) in _TELLS and verb_share(lemma(name)) < _SURELY:
        return ""
    if _writes(one) or (not lead and changes(name) and name not in _OFTEN_A_THING and len(one.words) > 1):
        return f"name says “{name}”"
    return f"text says “{lead}”" if lead and changes(lead, leads=True) and not is_look(name) else ""


def _hint(one: ItemView, name: str, message: str, meant: bool) -> Spot:
    pointer = f"/annotations/{name}"
    patch = ({"op": "replace", "path": pointer, "value": meant},)
    return Spot(one.identity, pointer, message, suggestion=patch)


def _contradicting_annotation(subject: Subject) -> Iterator[Spot]:
    for one in subject.view.tools:
        hints = one.annotations
        first = one.text.words[0] if one.text.words else ""
        reads = hints.get("readOnlyHint") is True
        if reads and (
            _writes(one)
            or (
                first != stem(first)
                and stem(first) in _DESTROYING | {"create", "updat", "send"}
                and first.endswith("s")
            )
        ):
            verb, where = (one.words[0], "name") if _writes(one) else (first, "text")
            work = verb_class(stem(verb)) or verb_class(verb) or "change"
            message = (
                f"it says that it only reads, but its {where} says “{verb}” ({work}); "
                "hosts let read-only tools run unasked"
            )
            yield _hint(one, "readOnlyHint", message, False)
        elif (
            hints.get("destructiveHint") is False
            and one.words
            and one.words[0] in _DESTROYING
            and len(one.words) > 1
        ):
            message = f"it says that it destroys nothing, and its name says “{one.words[0]}”"
            yield _hint(one, "destructiveHint", message, True)
        elif reads and hints.get("destructiveHint") is True:
            yield Spot(
                one.identity,
                "/annotations/destructiveHint",
                "it says that it only reads, and that it destroys",
            )
        elif hints.get("readOnlyHint") is False and says_it_only_reads(one.text.text) and not _writes(one):
            yield Spot(
                one.identity,
                "/annotations/readOnlyHint",
                "its text says that it only reads, and the annotation that it does not",
            )
        else:
            yield from _contradicted_by_text(one)


def _contradicted_by_text(one: ItemView) -> Iterator[Spot]:
    """Yield hints against which the text says something."""
    hints, text = one.annotations, one.text.text
    if not hints:
        return
    if hints.get("readOnlyHint") is True and says_it_writes(text) and not says_it_only_reads(text):
        yield _hint(
            one, "readOnlyHint", "it says that it only reads, and its text that something is changed", False
        )
    if hints.get("destructiveHint") is False and says_for_good(text):
        yield _hint(
            one,
            "destructiveHint",
            "it says that it destroys nothing, and its text that it cannot be undone",
            True,
        )
    if hints.get("destructiveHint") is True and says_only_adds(text):
        yield _hint(one, "destructiveHint", "it says that it destroys, and its text that it only adds", False)
    again = says_of_repeating(text)
    if (
        again is not None
        and isinstance(hints.get("idempotentHint"), bool)
        and hints["idempotentHint"] is not again
    ):
        said = "does nothing more" if again else "does it once more"
        yield _hint(one, "idempotentHint", f"its text says that the same call again {said}", again)
    outside = says_of_outside(text)
    if (
        outside is not None
        and isinstance(hints.get("openWorldHint"), bool)
        and hints["openWorldHint"] is not outside
    ):
        said = "reaches the outside" if outside else "reaches nothing outside"
        yield _hint(one, "openWorldHint", f"its text says that it {said}", outside)


def _personal_data(subject: Subject) -> Iterator[Spot]:
    if subject.data_class not in _OPEN_CLASSES:
        return
    for one in subject.view.fields:
        words = split_identifier(one.name)
        pairs = {(words[a], words[b]) for a in range(len(words)) for b in range(a + 1, len(words))}
        if _PERSONAL & set(words) or _PERSONAL_PAIRS & pairs:
            message = f"`{one.path}` is personal data, and the server's data class is {subject.data_class}"
            yield Spot(one.item.identity, one.pointer, message)


RULES = (
    Rule(
        id="credential-parameter",
        family="safety",
        covers=("credential-parameter",),
        level="warning",
        reason="What a model fills in is written into conversations and logs.",
        check=_credential,
        bad=takes(api_key="Key of the harbour's service"),
        good=takes(page_token="Token of the next page", key="Name of the setting"),
    ),
    Rule(
        id="raw-command-parameter",
        family="safety",
        covers=("raw-command-parameter",),
        level="warning",
        reason="A command, statement or path that a model writes does whatever it was talked into.",
        check=_raw_command,
        bad=takes(sql="Query on the berths"),
        good=takes(code="Postal code, such as 2210", query="Words to look for"),
    ),
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
    Rule(
        id="personal-data",
        family="safety",
        covers=(),
        level="warning",
        reason="Personal data under a data class that is not for it reaches people who must not see it.",
        check=_personal_data,
        data_class="internal",
        bad=tools(tool(returns={"date_of_birth": {"type": "string"}})),
        good=tools(tool(returns={"birth": {"type": "string"}, "address": {"type": "string"}})),
    ),
)
