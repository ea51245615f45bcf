"""Rules on what a tool is handed and may do: credentials, raw commands, writing unasked, personal data."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import split_identifier, word_set

_CREDENTIALS = Pattern(
    r"^(?:(?:user|admin|login|account|root|db|database|client|auth|api|access|secret|private|bearer|session|refresh|my|service|ssh|oauth|jwt|github|aws)_)*"
    r"(?:password|passwd|passphrase|pwd|credentials?|secret|secret_key|api_?key|access_?key|private_?key|auth_?token|access_?token|bearer_?token|session_?token|refresh_token|client_secret|ssh_?key|api_token|auth_header|authorization|pin_code|otp|totp|cvv|cvc|passcode|card_number|(?:\w+_)?cookies?)$"
)
_TEXT_OF_CREDENTIAL = Pattern(
    r"\b(?i:api|access|bearer|auth\w*|secret|login|session)[ -]?(?i:token|key)\b|\bPIN (?:of|for) (?:the|a|an|your) |\b\w+['’]s PIN\b|\bcard's PIN"
)
_SAYS_CREDENTIAL = Pattern(
    r"\b(?:PIN|passcode|passphrase|password|one-time (?:code|password)) (?:of|for|with which|to)\b|\bsecret word\b|\bauthorization header\b|"
    r"\bcookie (?:line|header|from)\b|\bsecurity question\b|\b(?:three|four) digits on the back\b|\buser:password\b|"
    r"\b(?:signing|shared) secret\b|\bthat authori[sz]es the (?:payment|transfer)\b|\bchip card, read out\b|\bfrom (?:the|your|an?) authenticator\b|"
    r"\bwhat (?:the|a|an) \w+ (?:types?|enters?|keys in|dials?|says?|uses|taps)\b[^.]{0,30}\bto (?:get|log|sign|be let|let \w+) (?:in|into|on)\b|"
    r"\b(?:what|that|which|the) (?:the |a |an )?(?:\w+['’]s )?(?:app|phone|fob|device|card reader|dongle)\b[^.]{0,20}"
    r"\b(?:shows?|displays?|prints?)\b[^.]{0,30}\b(?:seconds?|minutes?|moment|while)\b|"
    r"\b(?:digits|numbers?|letters|word|phrase|pattern) (?:that |which |with which )?(?:the|a|an|your) \w+ (?:keys?|punches|taps|types?|says|unlocks?)\b|"
    r"\bname\s?/\s?password\b|\bprivate (?:part|half|key)\b|\bdigits (?:the|a|you|your)\b[^.]{0,30}\b(?:types?|enters?|keys? in)\b",
    re.IGNORECASE,
)
_CREDENTIAL_WORDS = word_set(
    "pin passcode passphrase password code secret authorization cookie security digits user authorises authorizes chip"
    " authenticator private types enters keys dials taps app phone fob device reader dongle digits letters phrase pattern"
)
_NOT_CREDENTIALS = Pattern(
    r"\b(?:page|pagination|cursor|continuation|hash of|name of|reference to|public)\b", re.IGNORECASE
)
_COMMANDS = Pattern(
    r"^(?:(?:shell|bash|raw|sql|system|os|cmd|powershell|terminal|db|database|native|graphql|python|js|javascript)_)*"
    r"(?:command|cmd|commandline|command_line|shell|bash|sql|sql_query|raw_sql|sql_statement|script|code|expression_code|eval|exec|raw_query|shell_script|statement|file_?path|filepath|path|absolute_path|file_name_or_path)$"
)
_COMMAND_TEXT = Pattern(
    r"\b(?:shell|bash|terminal|command[- ]line|os|system)\s+command|\bsql\s+(?:query|statement|to (?:run|execute))|\bsql\b[^.]{0,40}\b(?:run|runs|executed|evaluated)\b|\b(?:code|script|command|statement|expression)\s+to\s+(?:run|execute|evaluate)|\b(?:run|executed?|evaluated?)\s+(?:as is|verbatim|on the (?:server|host|machine|database)|in a shell)"
    r"|\b(?:sent|forwarded|taken over|passed on|arrives?|handed on|compiled and run|run|executed|evaluated|expanded)\b[^.]{0,60}\b(?:unchanged|as (?:it is|written|is)|without (?:inspection|checks?|a time limit)|against the|for each|by the template engine|each tick)"
    r"|\b(?:jinja2?|mustache|handlebars|liquid|velocity|freemarker|template)\b[^.]{0,40}\b(?:rendered|evaluated|expanded)\b"
    r"|\b(?:condition|clause|filter|fragment)\b[^.]{0,30}\b(?:append|add|insert|put|past)\w*\b[^.]{0,20}\b(?:where|query|sql|statement|command)\b"
    r"|\b(?:fetched|downloaded|loaded) from\b[^.]{0,30}\bany\b|\bany (?:host|address|url)\b"
    r"|\b(?:sieve|shell|bash|python|lua|batch|vb|automation) (?:script|macro|program)|\bmacro\b[^.]{0,60}\b(?:executed|run|runs)\b"
    r"|\b(?:goes|given|handed|passed|put|fed) (?:on )?to the (?:database|shell|server|engine|interpreter|session|console|host)\b"
    r"[^.]{0,30}\b(?:the way|just as|as) it (?:comes|is|stands)\b"
    r"|\b(?:lines?|pieces?|snippets?|bits?) of (?:code|R|Python|SQL|Lua|JavaScript|TypeScript|Bash|Perl|Ruby|Julia|VBA|shell)\b"
    r"|\bfunctions? of the (?:host )?language\b|\braw command\b|\bgraphql (?:document|query|mutation)|\bmutations (?:are )?allowed\b"
    r"|\b(?:append|add)(?:ed)? to the \w+ (?:command|line|call)\b|\b(?:leading|first) equals sign\b|\bmakes the (?:sheet|host|server) compute\b"
    r"|\bpassed to the \w+ (?:without being read|unread|unchecked|as is|verbatim)\b|\bsource (?:code|text)\b[^.]{0,40}\b(?:run|runs|executed|interpreter)\b"
    r"|\bwhat (?:comes|goes|stands|follows|is put)? ?(?:after |behind )?(?:WHERE|SELECT|FROM|ORDER BY|where)\b|\b(?:an? )?(?:lambda|closure|callback|comprehension|one-liner|predicate)\b[^.]{0,40}\b(?:given|called|gets|receives|takes|returns)\b|\b(?:javascript|python|lua|lambda|groovy|perl|ruby)\b[^.]{0,40}\b(?:run|runs|executed|evaluated|body)|\b(?:lua|javascript|python) that runs\b|\bbody of a lambda\b|\bany host\b|\bin the (?:printer|device|machine)['’]s own language\b"
    r"|\b(?:absolute|any|full|local|server)\s+(?:file\s+)?path|\bpath (?:of|to) (?:the|a|any) (?:local )?file|\braw sql\b|\bsql (?:condition|clause|where|expression|fragment|text)\b|\b(?:any|every) file (?:on|of|in) (?:the|this) (?:server|host|machine|disk)",
    re.IGNORECASE,
)
# One of these stands in every text that the pattern finds something in.
_COMMAND_WORDS = word_set(
    "command commands sql run runs execute executes executed evaluate evaluates evaluated path paths file files"
    " unchanged inspection tick lambda lua javascript python groovy perl ruby host engine sent forwarded taken passed"
    " arrives handed compiled expanded where own fetched downloaded loaded address url sieve macro script program raw"
    " jinja jinja2 template mustache handlebars liquid velocity freemarker rendered condition clause filter fragment"
    " graphql mutations language added add append equals compute closure callback comprehension one-liner predicate"
    " goes given fed lines line pieces piece snippet snippets bits code"
    " select order from"
)
_RUNS = Pattern(r"\b(?:run|runs|executed?|evaluated?|sql|shell|python|javascript|compiled)\b", re.IGNORECASE)
_SPOKEN = Pattern(
    r"\b(?:reads?|reader|spoken|speech|speaker|presenter|actors?|scenes?|films?|play|dialogue|witness|insured|account|bank|claim|"
    r"said|press|mission|privacy|alphabet|writing)\b",
    re.IGNORECASE,
)
_RUNNING = frozenset({"run", "execute", "evaluate", "eval", "exec"})
_FILES = Pattern(r"\b(?:files?|folders?|director(?:y|ies)|disk|filesystem|file system)\b", re.IGNORECASE)
_ELSEWHERE = Pattern(
    r"\b(?:repositor(?:y|ies)|repo|branch|project|group|vault|pull request|commit|diff|note|bucket|collection|field|mailbox|mail|document store|json ?path|url|"
    r"namespace|relative (?:to|path))\b",
    re.IGNORECASE,
)
_BOUNDED = Pattern(
    r"\b(?:allowed|permitted|approved|shared|configured) (?:\w+ )?(?:director(?:y|ies)|folders?|roots?|paths?)\b|\bsandbox\w*|"
    r"\b(?:confined|restricted|limited) to\b|\bmust (?:lie|be|stay) (?:within|inside|under)\b",
    re.IGNORECASE,
)
"""Where a text says that only some places can be reached."""
_NARROW = frozenset({"enum", "const", "format"})
_CODES = Pattern(
    r"\b(?:such as|e\.g\.|postal|country|port|currency|language|booking|product|status|zip|error|area|promo|iata|iso|discount|number|json ?path|url path|uri)\b",
    re.IGNORECASE,
)
_PERSONAL = word_set(
    "birthday birthdate passport ssn salary health diagnosis disability religion ethnicity iban "
    "nationality fingerprint biometric medical allergy"
)
_PERSONAL_PAIRS = frozenset(
    {("date", "birth"), ("home", "address"), ("social", "security"), ("bank", "account"), ("next", "kin")}
)
_OPEN_CLASSES = frozenset({"public", "internal"})


def _credential(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        name = "_".join(parameter.words)
        said = name in ("token", "key", "pin", "auth") and _TEXT_OF_CREDENTIAL.search(parameter.text.text)
        if not parameter.text.word_set.isdisjoint(_CREDENTIAL_WORDS):
            said = said or _SAYS_CREDENTIAL.search(parameter.text.text)
        if (
            (said or _CREDENTIALS.match(name))
            and not parameter.types & {"boolean", "integer"}
            and not _NOT_CREDENTIALS.search(parameter.text.text)
        ):
            message = f"`{parameter.path}` asks the model for a credential; let the server hold it, or take it from a header"
            yield RuleHit(parameter.item.identity, parameter.pointer, message)


def _raw_command(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if "string" not in parameter.types or not parameter.schema.keys().isdisjoint(_NARROW):
            continue
        name = "_".join(parameter.words)
        speaks = not parameter.text.word_set.isdisjoint(_COMMAND_WORDS)
        said = _COMMAND_TEXT.search(parameter.text.text) if speaks else None
        if (
            said
            and "path" in said.group().lower()
            and (_lies_elsewhere(parameter) or _is_workplace(parameter))
        ):
            said = None
        if said or (
            _COMMANDS.match(name)
            and "pattern" not in parameter.schema
            and _is_run_or_opened(subject, parameter, name)
        ):
            message = (
                f"`{parameter.path}` is run or opened as it comes; take the parts it is made of, or bound it"
            )
            yield RuleHit(parameter.item.identity, parameter.pointer, message)


_LOCAL = Pattern(r"\b(?:local|absolute|disk|filesystem|file system|machine|computer)\b", re.IGNORECASE)


def _lies_elsewhere(parameter: Parameter) -> bool:
    """Whether a path leads into what the tool works on, such as a repository, and not to this machine's files."""
    about = f"{parameter.text.text} {parameter.item.body.get('description')}"
    return _ELSEWHERE.search(about) is not None and not _LOCAL.search(about)


_WORKPLACE = Pattern(
    r"\b(?:root|top-level|working|base) (?:directory|folder) of (?:the |your |a )?(?:\w+ )?"
    r"(?:workspace|project|repository|checkout)\b",
    re.IGNORECASE,
)


def _is_workplace(parameter: Parameter) -> bool:
    """Whether a path is where a caller works, and no file to be opened: the root of a project."""
    return parameter.words[-1:] != ("path",) and _WORKPLACE.search(parameter.text.text) is not None


def _is_run_or_opened(subject: Subject, parameter: Parameter, name: str) -> bool:
    """Whether a parameter of a name that is often a command or a file is one here, by what is said of it."""
    if name in ("code", "statement", "script", "expression"):
        tool = next(tool for tool in subject.view.tools if tool.item is parameter.item)
        runs = _RUNS.search(parameter.text.text) or not {
            lemma(word) for word in (*tool.words[:1], *tool.text.words[:1])
        }.isdisjoint(_RUNNING)
        spoken = name in ("statement", "script") and not _SPOKEN.search(
            f"{parameter.text.text} {tool.text.text}"
        )
        return bool(runs or spoken) and not _CODES.search(parameter.text.text)
    if name.endswith(("path", "path_name")):
        about = f"{parameter.text.text} {parameter.item.body.get('description')}"
        return (
            _FILES.search(about) is not None
            and not _ELSEWHERE.search(about)
            and not _BOUNDED.search(about)
            and not _CODES.search(parameter.text.text)
        )
    return True


def _personal_data(subject: Subject) -> Iterator[RuleHit]:
    if subject.data_class not in _OPEN_CLASSES:
        return
    for parameter in subject.view.fields:
        words = split_identifier(parameter.name)
        pairs = {(words[a], words[b]) for a in range(len(words)) for b in range(a + 1, len(words))}
        if _PERSONAL & set(words) or _PERSONAL_PAIRS & pairs:
            message = (
                f"`{parameter.path}` is personal data, and the server's data class is {subject.data_class}"
            )
            yield RuleHit(parameter.item.identity, parameter.pointer, message)


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
