"""Sentences that tell whoever reads a text what to do, and whether that is more than how to use the tool.

A sentence is read by its mood and its verb, not by a list of sentences: it commands where, after what leads up to it, a
verb stands in its base form, or where it says what you, or the model, must, should or need not do. What is commanded
steers the reader where it is to speak in some way, or where it is about the reader's answers, the people asking, their
consent, or what was said before; how to call a tool, and to ask people first, steers nobody.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from itertools import islice
from typing import NamedTuple

from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.split import is_stop_word, word_set

_LEADING = re.compile(
    r"(?:(?:and|then|also|so|but|or|please|kindly|just|simply|first|next|finally|instead|otherwise|afterwards|lastly|"
    r"in (?:that|this|such|any) case|from (?:now|here|then) on|at all times|note|important|hint|tip|attention|"
    r"be sure to|make sure to|feel free to|you may want to)[,:]?\s+)+",
    re.IGNORECASE,
)
_CONDITION = re.compile(
    r"(?:when(?:ever)?|if|once|after|before|while|until|unless|as soon as|every time|each time|in case|should|whatever|"
    r"whichever|wherever|no matter \w+|even (?:if|when|where)|during|in|on|at|with|for|to)\b[^,;:.]{2,120}[,;:]\s+",
    re.IGNORECASE,
)
_TOLD = re.compile(
    r"(?:you|the (?:\w+ )?(?:assistant|model|agent|ai|llm|bot|reader)s?|"
    r"(?:who|any)(?:ever|one|body) (?:reads|reading) this)\s+"
    r"(?:must|should|shall|ought to|have to|has to|needs? to|may|might|can|could|are to|is to|"
    r"(?:are|is) (?:expected|asked|free|advised|allowed|told|supposed|authori[sz]ed|cleared|entitled|permitted) to)\s+",
    re.IGNORECASE,
)
_FORBIDS = re.compile(
    r"(?:do not|don['’]t|never|no need to|(?:there is|there['’]s) no (?:need|reason|point|call|use) (?:to|in|for)|"
    r"(?:there is )?nothing (?:is )?(?:to be )?gained by|"
    r"refrain from|avoid|under no circumstances|(?:you )?need not|"
    r"(?:you )?(?:need|must|should|may|shall)(?: not|n['’]t))\s+",
    re.IGNORECASE,
)
_ADVERB = re.compile(
    r"(?:not|never|always|also|first|only|just|simply|quietly|silently|secretly|still|then|even|ever)\s+",
    re.IGNORECASE,
)
_VERB = re.compile(r"[A-Za-z]+(?![\w-])")
_NO_COMMAND = re.compile(r"\s+(?:of|is|are|was|were|has|had|will|can|may)\b|\s*[:,]|\s*$", re.IGNORECASE)

_SPEAKING = word_set(
    """
answer reply respond say mention pretend claim apologise apologize greet thank congratulate insist promise brag
reassure persuade convince recommend praise boast joke flatter speak invent fabricate
"""
)
"""What somebody does who talks: no tool is used so."""
_TELLING = word_set(
    "tell inform present show explain describe report warn notify alert assure advise remind suggest state"
)
_LEAVING = word_set("bother trouble consult involve let keep leave spare")
_DECIDING = word_set("decide choose act assume")
_USING = word_set(
    """
use call pass give set provide specify supply fill see try combine check wait retry run repeat ask confirm verify
"""
)
"""What a reader does with a tool, or before using it: to be told of it steers nobody."""
_COMMUNICATION, _PERSON = 32, 18
"""Files of WordNet: of verbs of saying, and of nouns for people."""
_NO_PERSON = word_set(
    """
server client parent child host master worker agent model owner author holder reader provider publisher subscriber
listener handler controller builder runner scanner counter member descendant ancestor neighbour neighbor successor
"""
)
_SO, _CLAUSES = re.compile(r"(?:, (?:so|and|but) |; )(?=[a-z])"), 3
"""Where a clause begins that may command, and how many of these are looked at."""
_NEXT = 40
"""Characters in which a verb's object stands."""
_PEOPLE = re.compile(
    r"\b(?:users?|persons?|people|customers?|clients?|humans?|operators?|anyone|anybody|everyone|everybody|somebody|"
    r"someone|whoever|audience)\b",
    re.IGNORECASE,
)
_ANSWERS = re.compile(
    r"\byour (?:\w+ ){0,2}?(?:answers?|repl(?:y|ies)|responses?|summar(?:y|ies)|messages?|output|wording|tone|"
    r"explanations?|write-up|advice|reasoning)\b|\b(?:every|each|any) (?:answer|reply|response)\b|"
    r"\bwhat you (?:say|write|answer|reply|report)\b|\bin the (?:voice|role|tone|style|manner|character) of\b",
    re.IGNORECASE,
)
_ASKING_FIRST = re.compile(
    r"\b(?:ask (?:the|a|an|them|him|her|whoever|people|those|first|for|who)|wait for|confirm with|check with|"
    r"consent|agrees?|approves?|go-ahead)\b|"
    r"\blet (?:\w+ ){1,2}(?:choose|decide|pick|confirm)\b",
    re.IGNORECASE,
)
_BEFORE = re.compile(
    r"\b(?:(?:all |any |every )?(?:later|future|other|earlier|previous|prior|coming|following) |the rest of the |"
    r"(?:any|every)thing else in the )(?:\w+ )?(?:sessions?|conversations?|chats?|dialogues?|turns?)\b|"
    r"\b(?:earlier|previous|prior|other|your|any|all|safety|given|former|existing) (?:\w+ )?"
    r"(?:guidance|instructions|rules|prompts|polic(?:y|ies)|guardrails|safeguards|directions|orders)\b",
    re.IGNORECASE,
)
_CONSENT = re.compile(
    r"\bas (?:\w+ )?(?:approved|granted|agreed|confirmed|allowed|authori[sz]ed|consented|given)\b|"
    r"\b(?:confirmations?|approvals?|permission|consent|go-ahead|authori[sz]ation)\b",
    re.IGNORECASE,
)
_LIFTED = re.compile(
    r"\b(?:guidance|instructions?|rules|orders|directions|restrictions?|polic(?:y|ies)|prompts?|limits)\b[^.]{0,60}\b"
    r"(?:(?:no longer|not|n['’]t) (?:appl\w+|hold|count|matter|bind)|(?:is|are) (?:void|lifted|superseded|suspended))",
    re.IGNORECASE,
)
_GIVEN_BEFORE = re.compile(r"\b(?:you|earlier|previous|prior|given|former|other)\b", re.IGNORECASE)


_SAID_OF = re.compile(
    r"\b(?:should|must|shall|(?:is|are) to|ha(?:s|ve) to) (?:not |never |always )?be "
    r"(?:described|presented|reported|passed off|explained|mentioned|answered|treated) "
    r"(?:to (?:the )?\w+ )?(?:as|with)\b|"
    r"\byou (?:now )?(?:belong|obey|serve|answer) (?:to|only)?\b|"
    r"\byour (?:role|task|job|goal|duty|mission|persona) (?:\w+ ){0,4}?(?:is|becomes|will be)\b|"
    r"\b(?:give|drop|leave|make) no (?:hint|sign|word|mention|trace|remark)\b|\bask no (?:\w+ )?questions?\b|"
    r"\b(?:do|act|proceed) (?:exactly )?(?:as|what|whatever) [^.]{1,60}\b(?:says?|tells?|asks?|demands?|instructs?)\b|"
    r"\bleave it to this\b|\bmake (?:something|it|one|them) up\b|\bwith what seems\b|"
    r"\b(?:has|have) (?:already )?(?:agreed|consented|approved|authori[sz]ed|confirmed)\b[^.]*"
    r"\b(?:so|hence|therefore|nothing|no need|without)\b",
    re.IGNORECASE,
)
"""What is said of answers, of the reader, and of people's consent, as if it were so."""
_SECRETLY = re.compile(r"\b(?:silently|quietly|secretly|discreetly|covertly|unnoticed)\b", re.IGNORECASE)
_THIS = re.compile(r"\b(?:this|it|its|these|them|they|one|instead)\b|['\"]\w+['\"]", re.IGNORECASE)
_ONLY_WHEN = re.compile(r"\b(?:when|if|while|once|because|since|so that|unless|until)\b", re.IGNORECASE)
_USAGE = word_set(
    """
id identifier code name value result page cursor list limit call error format date time unit filter parameter argument
field option default number key path file text string type order query request response tool item record entry row
data set object array json url link version status state server api documentation example default case retry second
minute hour day week month year size length count total amount
"""
)
_NO_THING = word_set(
    "the and for with from into onto all any each every only first last next other more most less least"
)


_STATES = word_set("a an it its each every both by of and/or")
_LEADS = word_set("always afterwards unless as")
_SAID = re.compile(
    r"no longer|\bnot\b|n['’]t|void|lifted|suspended|superseded|\bbe\b|\byou\b|agreed|consented|approved|"
    r"uthori|confirmed|\byour\b|\bno (?:hint|sign|word|mention|trace|remark|\w* ?questions?)\b|\bas\b|\bwhat|"
    r"this|\bup\b",
    re.IGNORECASE,
)
"""One of these stands where something is said to be lifted, or of answers, the reader or consent."""


class Command(NamedTuple):
    """What a sentence tells its reader to do, by the verb; ``rest`` is the whole sentence around it."""

    verb: str
    start: int
    forbids: bool
    condition: str
    rest: str
    named: bool
    """Whether it says who is told."""


def command(sentence: str) -> Command | None:
    """Return what a sentence commands, or None where it commands nothing."""
    first = sentence.split(" ", 1)[0].lower()
    if first in _STATES or (first.endswith("s") and first not in _LEADS):
        return None  # most sentences: Returns, Results, A, It
    at, forbids, named, condition = 0, False, False, ""
    for _ in range(4):
        if found := _LEADING.match(sentence, at):
            at = found.end()
        elif (found := _CONDITION.match(sentence, at)) and not condition:
            condition, at = found.group(), found.end()
        else:
            break
    begins = at
    if found := _TOLD.match(sentence, at):
        at, named = found.end(), True
    if found := _FORBIDS.match(sentence, at):
        at, forbids = found.end(), True
    while found := _ADVERB.match(sentence, at):
        forbids = forbids or found.group().strip().lower() in ("not", "never")
        at = found.end()
    word = _VERB.match(sentence, at)
    if word is None:
        return None
    verb = word.group().lower()
    base = lemma(verb) if forbids and verb.endswith("ing") else verb
    if not _is_command(base, verb, sentence[word.end() :], named or forbids):
        return None
    return Command(base, begins, forbids, condition, sentence[begins:], named)


def _is_command(base: str, verb: str, rest: str, led: bool) -> bool:
    if "v" not in parts(base) or lemma(base) != base or (not led and verb != base):
        return False
    if led:
        return True
    known = base in _SPEAKING or base in _TELLING
    return (known or verb_share(base) >= 0.5) and not _NO_COMMAND.match(rest)


def steers(
    sentence: str,
    own: Collection[str],
    *,
    bare: bool,
    vocabulary: Callable[[], Collection[str]] | None = None,
) -> tuple[int, int] | None:
    """Return where a sentence tells its reader more than how to use the tool, or None.

    ``own`` are words of what the tool works on; ``bare`` says that the text tells of the tool itself by verbs in their
    base form, so that a command is one by what it is about alone. ``vocabulary`` returns the words of the tool, its
    parameters, results and siblings: where a command speaks of none of them, it is about something else.
    """
    if _SAID.search(sentence):
        if (found := _LIFTED.search(sentence)) and _GIVEN_BEFORE.search(sentence):
            return found.span()
        if found := _SAID_OF.search(sentence):
            return found.span()
    begins = [0] if bare else [0, *(found.end() for found in islice(_SO.finditer(sentence), _CLAUSES))]
    for at in begins:
        told = command(sentence[at:])
        if told is not None and _is_more(told, own, bare, vocabulary):
            return at + told.start, len(sentence)
    return None


def _is_more(
    told: Command, own: Collection[str], bare: bool, vocabulary: Callable[[], Collection[str]] | None
) -> bool:
    """Whether a command is more than how to use the tool."""
    if told.forbids and re.search(r"\bwithout\b", told.rest):
        return False  # never without asking
    if not bare and vocabulary is not None and _is_elsewhere(told, vocabulary):
        return True
    return (told.verb not in _USING or told.forbids) and _about(told, own, bare=bare)


def _is_elsewhere(told: Command, vocabulary: Callable[[], Collection[str]]) -> bool:
    """Whether a command speaks of nothing that is the tool's: neither of it, nor of what it takes and gives."""
    if _SECRETLY.search(told.rest):
        return True
    said = _ONLY_WHEN.split(told.rest)[0]
    if _THIS.search(said) or _ASKING_FIRST.search(told.rest) or "_" in told.rest or "`" in told.rest:
        return False
    words = [one for one in _VERB.findall(said.lower()) if not is_stop_word(one) and one not in _NO_THING]
    words = [one for one in map(lemma, words) if one != told.verb]
    known = vocabulary()
    if any(word in _USAGE or word.rstrip("s") in known for word in words):
        return False
    return any(map(_is_thing, words)) or (_is_speech(told.verb) and told.verb not in _USING)


def _is_thing(word: str) -> bool:
    found = parts(word)
    return len(word) > 2 and "n" in found and verb_share(word) < 0.5


def _about(told: Command, own: Collection[str], *, bare: bool) -> bool:
    """Whether what is commanded is about the reader's words, the people who ask, their consent or what came before."""
    using = told.verb in _USING
    if _is_about(_ANSWERS, told.rest, own) or (_is_about(_BEFORE, told.rest, own) and not using):
        return True
    if _CONSENT.search(told.rest) and (told.forbids or " as " in told.rest) and not using:
        return True
    if _ASKING_FIRST.search(told.rest) and told.verb not in _LEAVING:
        return False
    people = _names_people(told.rest, own)
    asked = people or _names_people(told.condition, own)
    if bare and not (told.forbids or told.condition or told.named):
        return False
    if told.verb in _SPEAKING:
        return not bare or asked
    if told.verb in _TELLING or (_is_speech(told.verb) and told.forbids):
        return people or (asked and told.verb != "show")
    if told.verb == "let" and not told.forbids:
        return False  # let them choose
    if told.verb in _LEAVING:
        return _names_people(told.rest[:_NEXT], own) and (told.forbids or bool(told.condition))
    return told.verb in _DECIDING and asked and (told.forbids or bool(told.condition))


def _names_people(text: str, own: Collection[str]) -> bool:
    """Whether a text speaks of people: by a word for them, or by a noun whose first sense is a person (WordNet)."""
    if _is_about(_PEOPLE, text, own):
        return True
    nouns = (lemma(word) for word in _VERB.findall(text) if word.islower())
    return any(
        (found := parts(noun).get("n")) is not None
        and found.file == _PERSON
        and verb_share(noun) < 0.3
        and noun not in _NO_PERSON
        and noun.rstrip("s") not in own
        for noun in nouns
    )


def _is_speech(verb: str) -> bool:
    return parts(verb)["v"].file == _COMMUNICATION and verb not in _USING


def _is_about(form: re.Pattern[str], text: str, own: Collection[str]) -> bool:
    return any(
        not any(word.rstrip("s") in own for word in re.findall(r"[a-z]+", found.group().lower()))
        for found in form.finditer(text)
    )
