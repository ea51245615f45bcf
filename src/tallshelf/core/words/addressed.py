"""Sentences that tell whoever reads a text what to do, and whether that is more than how to use the tool.

A sentence is read by its mood and its verb (`commanding`), not by a list of sentences. What is commanded steers the
reader where it is to speak in some way, or where it is about the reader's answers, the people asking, their consent, or
what was said before; how to call a tool, and to ask people first, steers nobody.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable, Collection

from tallshelf.core.words.commanding import SPEAKING, TELLING, WORD, Command, command
from tallshelf.core.words.implied import implied_order, may_imply
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.persons import names_people, speaks_of
from tallshelf.core.words.split import is_stop_word, word_set
from tallshelf.core.words.ways import words_in

_LEAVING = word_set("bother trouble consult involve let keep leave spare")
_CONSENTING = word_set("sign agree consent accede")
_IN_PLACE_OF = Pattern(r"\b(?:for|on behalf of|in the name of)\b", re.IGNORECASE)
_SKIPPING = word_set("skip waive bypass omit forgo dispense sidestep")
_FORMALITY = Pattern(
    r"\b(?:forms?|confirmations?|questions?|callbacks?|consent|approvals?|signatures?|disclaimers?)\b",
    re.IGNORECASE,
)
_BELIEVE = Pattern(r"\b(?:believe|think|assume|feel|suppose)\b", re.IGNORECASE)
_RELYING = word_set("rely trust")
_BLINDLY = Pattern(
    r"\b(?:this|it|them|these)\b[^.]*"
    r"\b(?:alone|blindly|fully|completely|unconditionally|without (?:question|checking))\b"
)
_BOTHERING = word_set("bother trouble spare")
"""What is done to people alone."""
_DISMISSING, _PRONOUN = (
    word_set("disregard distrust forget"),
    Pattern(r"\b(?:it|them|this|that|those|these)\b"),
)
_DECIDING = word_set("decide choose act assume")
_USING = word_set(
    """
use call pass give set provide specify supply fill see try combine check wait retry run repeat ask confirm verify
"""
)
"""What a reader does with a tool, or before using it: to be told of it steers nobody."""
_COMMUNICATION = 32
"""File of WordNet: of verbs of saying."""
_SO, _CLAUSES = Pattern(r"(?:, (?:so|and|but) |; )(?=[a-z])"), 3
"""Where a clause begins that may command, and how many of these are looked at."""
_MOSTLY_A_VERB = 0.5
_NEXT = 40
"""Characters in which a verb's object stands."""
_ANSWERS = Pattern(
    r"\byour (?:\w+ ){0,2}?(?:answers?|repl(?:y|ies)|responses?|summar(?:y|ies)|messages?|output|wording|tone|"
    r"explanations?|write-up|advice|reasoning|judge?ments?|beliefs?|instincts?|dut(?:y|ies)|mission|persona|loyalty|"
    r"allegiance)\b|"
    r"\b(?:every|each|any) (?:answer|reply|response)\b|"
    r"\bwhat you (?:say|write|answer|reply|report)\b|\bin the (?:voice|role|tone|style|manner|character) of\b",
    re.IGNORECASE,
)
_ASKING_FIRST = Pattern(
    r"\b(?:ask (?:the|a|an|them|him|her|whoever|people|those|first|for|who)|wait for|confirm with|check with|"
    r"consent|agrees?|approves?|go-ahead)\b|"
    r"\blet (?:\w+ ){1,2}(?:choose|decide|pick|confirm)\b",
    re.IGNORECASE,
)
_FILLED = Pattern(r"^\w+ (?:in|under|as|with) [`'\"]?(?:`\w+`|\w+_\w+)")
"""A parameter is filled by it: "Say in `reason` why"."""
_BEFORE = Pattern(
    r"\b(?:(?:all |any |every )?(?:later|future|other|earlier|previous|prior|coming|following) |the rest of the |"
    r"(?:any|every)thing else in the )(?:\w+ )?(?:sessions?|conversations?|chats?|dialogues?|turns?)\b|"
    r"\b(?:earlier|previous|prior|other|your|any|all|safety|given|former|existing) (?:\w+ )?"
    r"(?:guidance|instructions|rules|prompts|polic(?:y|ies)|guardrails|safeguards|directions|orders)\b",
    re.IGNORECASE,
)
_CONVERSATION = Pattern(
    r"\b(?:in|during|throughout|for) (?:this|our|the (?:present|current|whole|rest of the|rest of this)) "
    r"(?:chat|conversation|dialogue)\b",
    re.IGNORECASE,
)
_CONSENT = Pattern(
    r"\bas (?:\w+ )?(?:approved|granted|agreed|confirmed|allowed|authori[sz]ed|consented|given)\b|"
    r"\b(?:confirmations?|approvals?|permission|consent|go-ahead|authori[sz]ation)\b",
    re.IGNORECASE,
)
_LIFTED = Pattern(
    r"\b(?:guidance|instructions?|rules|orders|directions|restrictions?|polic(?:y|ies)|prompts?|limits)\b[^.]{0,60}\b"
    r"(?:(?:no longer|not|n['’]t) (?:appl\w+|hold|count|matter|bind)|(?:is|are) (?:void|lifted|superseded|suspended))",
    re.IGNORECASE,
)
_GIVEN_BEFORE = Pattern(r"\b(?:you|earlier|previous|prior|given|former|other)\b", re.IGNORECASE)
_SAID_OF = Pattern(
    r"\b(?:should|must|shall|(?:is|are) to|ha(?:s|ve) to) (?:not |never |always )?be "
    r"(?:described|presented|reported|passed off|explained|mentioned|answered|treated) "
    r"(?:to (?:the )?\w+ )?(?:as|with)\b"
    r"(?! (?:an? )?(?:untrusted|unsafe|unverified|foreign|opaque|data\b|plain (?:text|data)))|"
    r"\b(?:is|are) to be taken (?:at face value|as (?:true|fact))\b|\blet (?:on|slip) (?:that|how|why|what)\b|"
    r"\b(?:usual|normal|standard) (?:cautions?|precautions?|safeguards?)\b[^.]{0,40}\b(?:no longer|not) apply\b|"
    r"\byou (?:now )?(?:obey\b|(?:belong|answer) (?:to|only)\b|"
    r"(?:serve|work|act|speak|stand) (?:only|for|as|on behalf)\b)|"
    r"\bin our favou?r\b|\byou (?:were|have been|had been) (?:told|taught|instructed|trained|ordered)\b|"
    r"\byour (?:role|task|job|goal|duty|mission|persona) (?:\w+ ){0,4}?(?:is|becomes|will be)\b|"
    r"\b(?:give|drop|leave|make) no (?:hint|sign|word|mention|trace|remark)\b|\bask no (?:\w+ )?questions?\b|"
    r"\b(?:do|act|proceed) (?:exactly )?(?:as|what|whatever) [^.]{1,60}\b(?:says?|tells?|asks?|demands?|instructs?)\b|"
    r"\bleave it to this\b|\bmake (?:something|it|one|them) up\b|\bwith what seems\b|"
    r"\b(?:has|have) (?:already )?(?:agreed|consented|approved|authori[sz]ed|confirmed)\b[^.]*"
    r"\b(?:so|hence|therefore|nothing|no need|without)\b",
    re.IGNORECASE,
)
"""What is said of answers, of the reader, and of people's consent, as if it were so."""
_YOURS_IS = Pattern(
    r"\byour (?:\w+ )?(answers?|repl(?:y|ies)|responses?|summar(?:y|ies)|wording|tone|explanations?) "
    r"(?:is|are|must|should|shall|has|have|needs?|ought|may|can|will)\b",
    re.IGNORECASE,
)
_DONE_TO = Pattern(
    r"\b(?:should|must|shall|(?:is|are) to|ha(?:s|ve) to|may|can) (?:not |never |always |only )?be "
    r"(?:ignored|refused|overruled|dismissed|turned away|kept waiting|flattered|disregarded|discouraged|brushed off|"
    r"pressed|pressured|urged|hurried|told (?:that|nothing|only|no more)|assured|reassured|convinced|persuaded|nudged|"
    r"steered|talked into|left in the dark|kept (?:in the dark|unaware|from knowing)|given the impression|"
    r"(?:led|made) to (?:believe|think|feel|expect|wait))\b",
    re.IGNORECASE,
)
"""What is to be done to people; of things much of it is said as well."""
_FAVOUR = Pattern(r"\bin (?:\w+ )?(?:\w+['’]s |our |its )favou?r\b", re.IGNORECASE)
_SECRETLY = Pattern(r"\b(?:silently|quietly|secretly|discreetly|covertly|unnoticed)\b", re.IGNORECASE)
_THIS = Pattern(r"\b(?:this|it|its|these|them|they|one|instead)\b|['\"]\w+['\"]", re.IGNORECASE)
_OVER = Pattern(
    r"\b(?:over|rather than|instead of|in place of) ([^.,;]{2,60}?)(?: (?:for|when|if|on|in|as|to)\b|[.,;]|$)",
    re.IGNORECASE,
)
_ONLY_WHEN = Pattern(r"\b(?:when|if|while|once|because|since|so that|unless|until)\b", re.IGNORECASE)
_USAGE = word_set(
    """
id identifier code name value result page cursor list limit call error format date time unit filter parameter argument
field option default number key path file text string type order query request response tool item record entry row
data set object array json url link version status state server api documentation example default case retry second
minute hour day week month year size length count total amount word term phrase keyword letter sentence spelling
"""
)
_NO_THING = word_set(
    "the and for with from into onto all any each every only first last next other more most less least"
)


_SAID_WORDS = words_in("not be you your as up let no")
_SAID_PARTS = (
    *(
        "no longer",
        "n't",
        "n’t",
        "void",
        "lifted",
        "suspended",
        "superseded",
        "agreed",
        "consented",
        "approved",
    ),
    *("uthori", "confirmed", "what", "this", "usual", "normal", "standard", "favour", "favor"),
)
"""One of these stands where something is said to be lifted, or of answers, the reader or consent."""


def may_be_told(sentence: str, words: frozenset[str]) -> bool:
    """Whether a sentence may tell its reader anything, whatever the tool is: what `steers` looks at is there."""
    if _may_be_said(sentence, words) and any(
        form.search(sentence) for form in (_LIFTED, _SAID_OF, _DONE_TO, _YOURS_IS)
    ):
        return True
    return may_imply(sentence, words) or any(command(sentence[at:]) is not None for at in _begins(sentence))


def _may_be_said(sentence: str, words: frozenset[str]) -> bool:
    lowered = sentence.lower()
    return not words.isdisjoint(_SAID_WORDS) or any(part in lowered for part in _SAID_PARTS)


def _begins(sentence: str) -> list[int]:
    return [0, *(found.end() for found in itertools.islice(_SO.finditer(sentence), _CLAUSES))]


def steers(
    sentence: str,
    words: frozenset[str],
    own: Collection[str],
    *,
    bare: bool,
    goes_on: bool = False,
    vocabulary: Callable[[], Collection[str]] | None = None,
) -> tuple[int, int] | None:
    """Return where a sentence tells its reader more than how to use the tool, or None.

    ``words`` are its words (`words_in`), ``own`` those of what the tool works on; ``bare`` says that the text tells of
    the tool itself by verbs in their base form, so that a command is one by what it is about alone; the sentence
    ``goes_on`` from one that told what the tool does. ``vocabulary`` returns the words of the tool, its parameters,
    results and siblings: where a command speaks of none of them, it is about something else.
    """
    if _may_be_said(sentence, words):
        if (found := _LIFTED.search(sentence)) and _GIVEN_BEFORE.search(sentence):
            return found.span()
        if found := _SAID_OF.search(sentence):
            return found.span()
        if (found := _DONE_TO.search(sentence)) and names_people(sentence[: found.start()].lower(), own):
            return found.span()
        if (found := _YOURS_IS.search(sentence)) and not _is_own(found[1], own, vocabulary):
            return found.span()
    if span := implied_order(sentence, words, own):
        return span
    for at in [0] if bare else _begins(sentence):
        told = command(sentence[at:])
        if told is not None and (
            _is_more(told, own, bare, vocabulary) or (goes_on and _only_talks(told, own))
        ):
            return at + told.start, len(sentence)
    return None


def _only_talks(told: Command, own: Collection[str]) -> bool:
    """Whether somebody is to talk, where the tool itself gets or lists: answer in rhyme."""
    return (
        told.verb in SPEAKING
        and told.verb not in own
        and verb_share(told.verb) >= _MOSTLY_A_VERB
        and not _FILLED.search(told.rest[:_NEXT])
    )


def _is_own(word: str, own: Collection[str], vocabulary: Callable[[], Collection[str]] | None) -> bool:
    word = word.lower()
    return word in own or (vocabulary is not None and lemma(word) in vocabulary())


def _is_more(
    told: Command, own: Collection[str], bare: bool, vocabulary: Callable[[], Collection[str]] | None
) -> bool:
    """Whether a command is more than how to use the tool."""
    if told.forbids and re.search(r"\bwithout\b", told.rest):
        return False  # never without asking
    if not bare and vocabulary is not None and _is_elsewhere(told, vocabulary):
        return True
    if not bare and told.verb == "prefer" and vocabulary is not None and _over_another(told, vocabulary):
        return True
    return (told.verb not in _USING or told.forbids or bool(_CONVERSATION.search(told.condition))) and _about(
        told, own, bare=bare
    )


def _over_another(told: Command, vocabulary: Callable[[], Collection[str]]) -> bool:
    """Whether the tool is to be preferred to what is not the server's: to a web search, not to a sibling."""
    found = _OVER.search(told.rest)
    if found is None or not _THIS.search(told.rest[: found.start()]) or "_" in found[1] or "`" in found[1]:
        return False
    known = vocabulary()
    words = [lemma(one) for one in WORD.findall(found[1].lower()) if not is_stop_word(one)]
    return any(map(_is_thing, words)) and not any(
        word.rstrip("s") in known or word in _USAGE for word in words
    )


def _is_elsewhere(told: Command, vocabulary: Callable[[], Collection[str]]) -> bool:
    """Whether a command speaks of nothing that is the tool's: neither of it, nor of what it takes and gives."""
    if _SECRETLY.search(told.rest):
        return True
    said = _ONLY_WHEN.split(told.rest)[0]
    if _THIS.search(said) or _ASKING_FIRST.search(told.rest) or "_" in told.rest or "`" in told.rest:
        return False
    words = [one for one in WORD.findall(said.lower()) if not is_stop_word(one) and one not in _NO_THING]
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
    if speaks_of(_ANSWERS, told.rest, own) or (speaks_of(_BEFORE, told.rest, own) and not using):
        return True
    if speaks_of(_CONVERSATION, f"{told.condition} {told.rest}", own):
        return True
    if _CONSENT.search(told.rest) and (told.forbids or " as " in told.rest) and not using:
        return True
    if _ASKING_FIRST.search(told.rest) and told.verb not in _LEAVING:
        return False
    people = names_people(told.rest, own)
    asked = people or names_people(told.condition, own)
    if bare and not (told.forbids or told.condition or told.named):
        return False
    if told.verb in SPEAKING:
        filled = not told.forbids and _FILLED.search(told.rest[:_NEXT]) is not None
        return not filled and (not bare or asked)
    if not bare and _FAVOUR.search(told.rest):
        return True
    if told.verb in TELLING or (_is_speech(told.verb) and told.forbids):
        return people or (asked and told.verb != "show")
    if told.verb == "let" and not told.forbids:
        return people and _BELIEVE.search(told.rest) is not None  # or else they are let to choose
    if told.verb in _CONSENTING:
        return people and told.verb not in own and _IN_PLACE_OF.search(told.rest) is not None
    if told.verb in _SKIPPING:
        return "`" not in told.rest and "_" not in told.rest and speaks_of(_FORMALITY, told.rest, own)
    if told.verb in _DISMISSING and _PRONOUN.search(told.rest[:_NEXT]):
        return not bare
    if told.verb in _RELYING and not told.forbids and _BLINDLY.search(told.rest):
        return True
    if told.verb in _BOTHERING:
        return told.forbids or bool(told.condition)
    if told.verb in _LEAVING:
        return names_people(told.rest[:_NEXT], own) and (told.forbids or bool(told.condition))
    return told.verb in _DECIDING and asked and (told.forbids or bool(told.condition))


def _is_speech(verb: str) -> bool:
    return parts(verb)["v"].file == _COMMUNICATION and verb not in _USING
