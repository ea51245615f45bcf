"""Whether a text steers whoever reads it beyond its own tool: orders, requests for what is not its own, other servers.

A text is read sentence by sentence, without what it quotes. A sentence steers where it speaks to or of the model that
reads it, tells it what to say, hide, skip or assume, or asks for the conversation, secrets or the machine. What the
item is for decides what is innocent: a word of its name or of its first sentence is what it works on.
"""

from __future__ import annotations

import functools
import re
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Literal, NamedTuple

from tallshelf.core.words.abroad import order_abroad
from tallshelf.core.words.addressed import command, steers
from tallshelf.core.words.sentences import sentences
from tallshelf.core.words.split import word_set

Steer = Literal["orders", "asks", "others"]

_QUOTED = re.compile(r"[\"“„«「][^\"”“»」\n]{3,200}[\"”»」]")
_READERS = re.compile(
    r"\b(?:assistants?|agents?|(?:language |vision |ai )?models?|ais?|llms?|(?:chat|reader |ai )?bots?|copilots?|"
    r"machines|sprachmodelle?n?|assistenten?|modelos?|asistentes?|assistentes?|modèles?|modelli?|modello|"
    r"assistenti?|modellen|"
    r"modelu|asystent\w*|modeller(?:na)?|modellen)\b",
    re.IGNORECASE,
)
_SPEAKS = (
    r"(?:mention|tell|inform|bring\s+(?:\w+\s+){0,2}up|raise|reveal|disclose|warn|notify|alert|consult|"
    r"confirm|ask(?!\s+for)|bother|"
    r"let\s+(?:\w+\s+){1,3}know|speak\s+of|talk\s+about|refer\s+to|stop\s+to|comment|hesitate|refuse)"
)
_SPEAKING = (
    r"(?:mentioning|telling|informing|raising|revealing|disclosing|warning|notifying|consulting|confirming|asking|"
    r"confirmation\s+from|approval\s+from|a\s+ticket|a\s+word\s+to)"
)
_ORDERS = rf"""
      (?:^|[,:;—–-]\s*|\b(?:and|but|then|so|please|must|should|shall)\s+)(?:please\s+)?(?:do\s+not|
      don['’]t|never|no\s+need\s+to|(?:there\s+is\s+)?no\s+need\s+to)\s+{_SPEAKS}\b
    | \bno\s+need\s+to\s+{_SPEAKS}\b
    | \bnot\s+(?:raise|mention|bring)\s+(?:the\s+matter|it|this|that)\b
    | \bwithout\s+{_SPEAKING}\b(?!\s+(?:again|the\s+server))
    | (?:^|[,:;]\s*|\b(?:and|then|also)\s+)(?:silently|quietly|secretly|discreetly)\s+(?!\w+(?:ing|ed)\b)
    | \b(?:then|while\s+\w+,)\s+(?:silently|quietly|secretly)\b
    | \bin\s+the\s+dark\s+about\b
    | \bkeeps?\s+(?:\w+\s+){{1,3}}to\s+(?:him|her|it|them|your)sel(?:f|ves)\b
    | \bnobody\s+needs\b
    | \bneed\s+not\s+(?:know|be\s+(?:told|asked))\b
    | \b(?:read|reads|be\s+read|are\s+read|were\s+read)\s+out\s+as\b
    | \b(?:describe|render|report|pass\s+off|declare)\s+(?:[^.,]{{1,40}})\s+as\b
    | \bby\s+house\s+rule\b
    | \bit\s+would\s+be\s+(?:kind|nice|good|appreciated|helpful)\b
    | \bit\s+is\s+(?:desired|customary|expected|appreciated)\s+that\b
    | \bfrom\s+(?:here|now|this\s+(?:point|moment))\s+on\b(?=.*\byou\b|.*\b(?:answer|reply|only)\b)
    | \bbreaks?\s+character\b
    | \byou(?:['’]re|\s+are)\s+now\s+(?:a|an|the|in|free)\b
    | \b(?:every|each|all)\s+(?:answer|reply|response)s?\s+of\s+yours\b
    | \b(?:in|to)\s+(?:every|each|all)\s+(?:answers?|repl(?:y|ies)|responses?)\b
    | \bbefore\s+you\s+(?:answer|reply|respond)\b
    | \bwhile\s+you(?:['’]re|\s+are)\s+here\b
    | (?:(?<=[a-z,]\ )(?:just|simply|only)|\balways)\s+(?:say|answer|reply|respond|claim|recommend|praise)\b
    | \balways\s+(?:present|mention|suggest|prefer)\b
    | \bno\s+matter\s+what\b
    | \bwhatever\s+(?:the\s+topic|it\s+is\s+about)
    | \b(?:ignore|disregard|forget|override)\s+(?:everything|anything|all|any|every|what|the\s+(?:above|
      previous)|your|previous|prior|earlier|other)\b(?=[^.]*\b(?:told|instruct|prompt|rule|guid|order|
      messag|system|polic|said)\w*)
    | \bsystem\s+(?:message|prompt|notice|instruction|override)s?\b
    | \b(?:source|chain)\s+of\s+(?:orders|command)\b
    | \bstop\s+(?:its|your|the)\s+current\s+task\b
    | \b(?:consent|approval|permission|agreement)\s+(?:\w+\s+)?as\s+(?:given|granted|read)\b
    | \b(?:has|have)\s+already\s+(?:agreed|approved|consented|confirmed|authori[sz]ed)\b(?=[^.]*\b(?:so|
      all|any|every|further|this)\b)
    | \bconfirmation\s+(?:shall|should|need|must|is)\s+not\b
    | \bwaives?\s+the\b
    | \b(?:is|are|was)\s+a\s+formality\b
    | \bwithout\s+regard\s+to\s+the\s+(?:limits|rules)\b
    | (?:^|\b(?:and|then|may|can|please)\s+)skip\s+(?:the\s+)?(?:confirmation|callback|consent|approval|
      check\b)
    | ^(?:after|whenever|once|while|every\s+time|each\s+time|as\s+soon\s+as|when)\s+(?:you\s+(?:have\s+
      )?)?(?:every\s+|each\s+)?(?:read|reading|us|using|pars|call|calling|look|writ|writing|see|
      hav)\w*[^,]{{0,40}},\s*(?:also\s+|then\s+|please\s+|quietly\s+|silently\s+)*(?!(?:call|use|ask|
      get|see|check|pass|give|set|wait|it|the|this|its|nothing|no|a|an)\b)[a-z]+\b
    | ^then\s+(?!(?:it|the|this)\b)
    | \balso\s+(?:run|send|call|renew|forward|transfer|delete|buy|order)\b(?=\s)
    | \b(?:note|hint|message|notice)s?\s+(?:to|for)\s+(?:the\s+)?(?:ai|model|assistant|machine|agent|
      reader)s?\b
    | ^hey\b
    | \bstep\s+\d\s+of\s+\d\b
    | \b(?:always|must)\s+call\s+this\b
    | \bcall\s+(?:it|this(?:\s+tool)?)\s+(?:first\s+)?(?:for|on|before)\s+(?:every|each|all)\b
    | \b(?:act|pretend|behave)\s+(?:as\s+(?:if|though)|to\s+be|that)\b
    | \bpre-?approved\s+by\b
    | \b(?:decode|translate)\s+and\s+(?:carry\s+out|follow|execute|obey)\b
    | \bverzichten\b[^.]*\brückfrage\b
    | \bunerwähnt\b
    | \bsarebbe\s+gradito\b
    | \ba\s+partir\s+deste\s+momento\b
    | \btoestemming\s+meestal\b
    | \bslaan\s+de\s+vraag\b
    | \bnämn\s+inte\b
    | 直接(?:解除|删除|执行)
    """
_ASKS = r"""
      \b(?:full|whole|entire|complete|present|current|previous|earlier)\s+(?:conversation|dialogue|chat|
      session|exchange|context\s+window)\b(?!\s+(?:ids?|number|only))
    | \b(?:conversation|dialogue|exchange|chat)\b[^.]{0,40}\b(?:so\s+far|up\s+to\s+now|until\s+now|
      that\s+led\s+here|led\s+so\s+far|with\s+the\s+(?:assistant|model|machine|user|customer))\b
    | \b(?:messages?|turns?|statements?|words|remarks|requests?|orders)\b[^.]{0,40}\b(?:exchanged\s+
      with|made\s+to|came\s+to\s+you|given\s+to\s+you|confided\s+to|written\s+to\s+you|of\s+the\s+
      present\s+session|from\s+the\s+start\s+of\s+the\s+run)\b
    | \b(?:conversation|dialog(?:ue)?|chat|exchange|discussion)\b[^.]{0,40}\b(?:word\s+for\s+word|verbatim|in\s+full|
      with\s+the\s+(?:person|people|client|human|caller|operator))\b
    | \bwhat\s+(?:the\s+)?(?:users?|persons?|people|customers?|they)\s+(?:(?:has|have|had)\s+)?
      (?:said|written|wrote|typed|asked|told)\b
    | \b(?:users?|persons?|customers?|callers?|riders?|operators?)\b['’]?s?[^.]*\bif\s+you\s+(?:know|have|remember)\b
    | \bwhatever\s+(?:\w+\s+)?(?:the\s+)?\w+\s+(?:has|have)\s+(?:shared|uploaded|pasted|attached)\b
    | \btranscripts?\b[^.]{0,30}\b(?:so\s+far|every\s+call|of\s+(?:the|this)\s+(?:chat|session|conversation))\b
    | \b(?:callers?|users?|customers?|hosts?|clients?)['’]s?\s+(?:\w+\s+)?(?:tokens?|cookies?|api\s+keys?)\b
    | \bmentioned\s+earlier\b | \bearlier\s+in\s+(?:the|this)\s+(?:chat|conversation|session)\b
    | \b(?:last|first|latest|exact|own)\s+(?:questions?|messages?|words?|requests?|prompts?)\s+(?:of|from|by)\s+the\s+
      (?:user|person|customer|caller)\b
    | \byou\s+(?:hold|keep|have)\s+in\s+(?:memory|mind)\b
    | \blast\s+\w+\s+turns\b
    | \bsystem\s*_?\s*prompt\b
    | \bhidden\s+reasoning\b
    | \byour\s+(?:own\s+)?(?:\w+\s+)?(?:reasoning|thoughts|memory|session|instructions|principal|orders|
      prompt|headers|notes|take)\b
    | \b(?:what|everything|anything|all(?:\s+that)?|wording\s+of\s+what)\b[^.]{0,40}\byou\b[^.]{0,40}\b
      (?:said|know|remember|stored|worked|working|told|asked|received|see|returned|see\s+on)\b
    | \breturned\s+to\s+you\b
    | \byou\s+(?:can\s+see|have\s+(?:stored|been))\b
    | \bverbatim\s+account\b
    | \binstructions\s+received\b
    | \bsaid\s+to\s+each\s+other\b
    | \bperson\s+(?:behind\s+the\s+request|you\s+are\s+talking\s+to)\b
    | \bin\s+confidence\b
    | \blong-term\s+memory\b
    | \b(?:all|your|(?:caller|user|host|customer)['’]s)\s+environment\s+variables?\b |
       \benvironment\s+variables?\s+of\s+the\s+(?:caller|process|host|user|machine)\b
    | \b(?:dot-?files?|home\s+directory|shell\s+history|ssh\s+(?:config|keys?)|id_rsa)\b
    | ~/\.(?:ssh|aws|netrc|npmrc|kube|gnupg|env|docker|pypirc|[\w./-]*(?:cred|token|secret|key))[\w./-]*
    | /etc/(?:passwd|shadow)
    | \bbrowser(?:['’]s)?\s+(?:cookies|history)\b
    | \bcookies\s+of\b
    | \b(?:users?['’]?s?|customer['’]s|operator['’]s)\s+(?:screen|desktop|browser|machine|device|
      clipboard)\b
    | \bof\s+the\s+(?:device|workstation|computer)\b
    | \bon\s+this\s+machine\b
    | \b(?:all|any|your|saved|session|admin|user'?s?)\s+(?:passwords?|secrets?|credentials?|api\s+
      keys?)\b(?!\s+(?:of\s+the\s+(?:service|server)|names?))
    | \bapi\s+keys?\s+(?:configured|of|stored)\b
    | \bpasswords?,\s+tokens?\b
    | \bprivate\s+key\s+of\b
    | \b(?:from\s+the\s+\w+['’]s|your|their)\s+(?:address\s+book|contacts?|phone\s*book)\b |
       \bcontact\s+list\s+of\s+the\b
    | \b(?:group\s+chat|call\s+log)\s+from\b
    | \bcalendar\b[^.]{0,30}\ball\s+entries\b
    | \bscan\s+of\s+the\s+\S+\s+passport\b
    | \bmails?\s+they\s+wrote\b
    | \$\{?SYSTEM_PROMPT\}?
    | \bAuthorization\s+included\b
    """
_OTHERS = r"""
      (?<!before\ )(?<!before\ any\ )\b(?:(?:any|every|all)\s+other|other|another|different)\s+(?:\w+\s+)?
      (?:servers?|tools?|
      connectors?|trackers?|databases)\b(?!\s+of\s+(?:this|the\s+same|the\s+pool))
    | \bservers?\s+elsewhere\b
    | \b(?:answers?|results?|output)\s+(?:of|from)\s+(?:the\s+)?(?!(?:this|same|the|a|an|any|each)\b)\w+\s+tools?\b
    | \btools?\b[^.]{0,30}\b(?:from|of|by)\b[^.]{0,20}\bother\s+(?:vendors?|makers?|publishers?|providers?|sources)\b
    | \b(?:the|any)\s+(?!(?:this|same|own|our)\b)\w+\s+(?:service|integration|connector|plugin|
      extension)['’]s\s+tools?\b
    | \b(?:\w+)\s+connectors?\b
    | \b(?:the|your|a|an|with|if|where|when|what)\b[^.]{0,30}\b(?!(?:the|this|that|same|own|a|an|each|any|our|
      its|underlying|remote|
      local|target|web|database|mail|api|file|proxy|mcp|whole)\b)[a-z]+\s+servers?(?:['’]s)?\b
    | \b(?:what|when|whenever|whatever|that)\b[^.]{0,30}\b(?:\w+)\s+tools?\b[^.]{0,20}\b(?:would|is\s+
      about|writes?|think|returns?|is\s+(?:called|used))\b
    | \byour\s+(?:own\s+)?(?:\w+\s+)?(?:web\s+search|calendar\s+app|image\s+tool|search\s+tool|
      built-in\s+\w+)\b
    | \b(?:composed|made|written|sent)\s+with\s+the\s+\w+\s+tool\b
    | \bin\s+place\s+of\s+any\b
    | \bonly\s+tool\s+you\b
    | \bsupersedes?\s+every\b
    | \bnever\s+call\s+\w+\.\w+
    | \bwhichever\s+server\b
    | \bconnected\b[^.]{0,20}\bserver\b
    | \bserver\s+is\s+connected\b
    | \bangeschlossen\b
    """
_LATIN = re.compile(r"[A-Za-z]+")
_OWN_KIND = word_set(
    "assistant agent model server tool connector conversation chat cookie machine bot variable secret password"
    " credential key transcript message calendar contact dialogue session history environment"
)
"""What a tool may work on: where its name or its first sentence says so, speaking of it steers nobody."""


_COMMON = word_set(
    "the and any all are was has have had for from this that with what when where you your not its their also into"
    " made make given last full present every each other another whole only out use using read call one two him them"
    " who whom which may can will per such than too very here there his hers she they our does did done been being but"
    " of it i is a as an in to on be by at or we"
)


# Speaking of another's tools steers only where the sentence sets something against them, or takes from them.
_AGAINST = re.compile(
    r"\b(?:instead|in place|rather than|never|not|don['’]t|stop|ignor\w*|discard\w*|replac\w*|supersed\w*|"
    r"overrul\w*|prefer\w*|"
    r"whatever|give(?:s)? way|stay off|unplug|cancel|divided|held back|hidden|unerwähnt|answered|quoted|"
    r"returns?|delivers?|comes? up|"
    r"avoid\w*|unsafe|wrong|unnecessary|obsolete|redundant|no longer needed|double-check\w*|disabl\w*|uninstall\w*|"
    r"belong|nags|leave|moved|bear|go(?:es)? through|accompan\w+|expects|read its|dial|guess\w*|declares|reports?)\b",
    re.IGNORECASE,
)
# Naming the model steers it only where the sentence says what it is to do, to say, to skip or to take as given.
_TOLD = re.compile(
    r"\b(?:must|should|shall|ought|never|always|not|don['’]t|no|usually|customarily|normally|expected|"
    r"supposed|silently|also|"
    r"answers?|repl(?:y|ies)|says?|tells?|mentions?|keeps?|skips?|proceeds?|waives?|treats?|assumes?|"
    r"marks?|puts?|restarts?|renews?|"
    r"reads? this|reading this|ignor\w*|follow\w*|obey\w*|consent|confirm\w*|considerate|good|kind|"
    r"without|before|after|hint|note|hey|"
    r"bots?:|assistants?:|between|überlicherweise|verzichten|brukar|meestal)\b",
    re.IGNORECASE,
)


# What is called by a reader's name and is none, or is made for one; and sentences that tell how to use a sibling.
_NO_READER = re.compile(
    r"\b(?:user|real estate|travel|shipping) agents?\b|\bvirtual machines\b|\b(?:ai|llm|bot|model|agent|"
    r"assistant)[ -](?:accounts?|"
    r"summar\w+|responses?|triage|prompts?|configured|definitions?|index|names?|ids?|versions?|generated|"
    r"friendly|powered|based|"
    r"outputs?|context|tokens?|types?|usage|class|file)\b|\buse (?:the )?[`'\"]?\w+[-_]\w+",
    re.IGNORECASE,
)


class _Way(NamedTuple):
    """One way of steering."""

    kind: Steer
    told: str

    @property
    def pattern(self) -> re.Pattern[str]:
        return _pattern(self.told)


@functools.cache
def _pattern(told: str) -> re.Pattern[str]:
    """Compile a way once a sentence has a word of it: most commands meet few of them."""
    return re.compile(told, re.IGNORECASE | re.VERBOSE)


_DENIAL = re.compile(r"\b(?:never|not|nothing)\b|n['’]t\b", re.IGNORECASE)
_WORD = re.compile(r"[a-zA-Z\u00c0-\u024f]{2,}")
"""A word of a Latin script; others are written without spaces, and are looked for as they stand."""


def _bare(word: str) -> str:
    return word.rstrip("s")


def _ways() -> tuple[dict[str, list[_Way]], list[_Way]]:
    """Return the ways of steering by the words of which each takes one, and those that take none."""
    by_word: dict[str, list[_Way]] = {}
    others: list[_Way] = []
    texts: tuple[tuple[Steer, str], ...] = (("orders", _ORDERS), ("asks", _ASKS), ("others", _OTHERS))
    for kind, text in texts:
        for told in re.split(r"\n\s+\| ", text):
            way = _Way(kind, told.strip())
            plain = re.sub(r"\\[a-zA-Z]|\(\?<?[!=:]", " ", told)
            words = {_bare(word) for word in set(_WORD.findall(plain.lower())) - _COMMON} - _COMMON
            for word in words:
                by_word.setdefault(word, []).append(way)
            if not words:
                others.append(way)
    return by_word, others


_BY_WORD, _BY_SIGN = _ways()
_READER_WORDS = {word.rstrip("s") for word in _WORD.findall(re.sub(r"\\[a-zA-Z]", " ", _READERS.pattern))} | {
    "ai"
}


@dataclass(frozen=True)
class Steering:
    """What steers: how, the words that do, and where they stand."""

    kind: Steer
    words: str
    start: int
    end: int


def steering(
    text: str,
    about: frozenset[str] = frozenset(),
    is_lead: bool = True,
    vocabulary: Callable[[], Collection[str]] | None = None,
    *,
    worded: bool = True,
) -> tuple[Steering, ...]:
    """Return what in a text steers its reader.

    ``about`` are the words of the item's name; ``is_lead`` says that the text's first sentence says what the item does;
    ``vocabulary`` returns the words of the item and its siblings, to which commands are held. A text that is not
    ``worded`` has none of the words by which known ways steer (`may_steer`): it is read for commands alone.
    """
    plain = _QUOTED.sub(
        lambda match: match.group()[0] + " " * (len(match.group()) - 2) + match.group()[-1], text
    )
    steerings: list[Steering] = []
    own = set(about)
    start, first, bare = 0, True, False
    for sentence, start in sentences(plain):
        said = sentence.strip()
        if not said:
            continue
        if first and is_lead:
            own |= {word.lower().rstrip("s") for word in _LATIN.findall(said)}
            bare = command(said) is not None
            first = False
            if "," not in said and "(" not in said:
                steerings += _in(sentence, start, own, lead=True) if worded else ()
                continue
        found = _in(sentence, start, own, lead=False) if worded else []
        if not any(one.kind == "orders" for one in found) and (
            span := steers(said, own, bare=not is_lead or bare, vocabulary=vocabulary)
        ):
            begins = start + sentence.find(said)
            words = said[span[0] : span[1]]
            found.append(Steering("orders", words, begins + span[0], begins + span[1]))
        steerings += found
    return tuple(steerings)


def may_steer(text: str, words: frozenset[str]) -> bool:
    """Whether a text may steer anybody: it has more than a label's words, and one that steering takes."""
    if not text.isascii() or "~" in text or "$" in text:
        return True
    return len(words) > 3 and any(_bare(word) in _BY_WORD or _bare(word) in _READER_WORDS for word in words)


def _in(sentence: str, start: int, own: Collection[str], *, lead: bool) -> list[Steering]:
    found: dict[Steer, Steering] = {}
    words = {word.rstrip("s") for word in _WORD.findall(sentence.lower())}
    ways = dict.fromkeys(way for word in sorted(words & _BY_WORD.keys()) for way in _BY_WORD[word])
    for way in (*ways, *(() if sentence.isascii() and "~" not in sentence else _BY_SIGN)):
        if way.kind in found:
            continue
        if way.kind == "others" and not _AGAINST.search(sentence):
            continue
        for match in way.pattern.finditer(sentence):
            if not _is_own(match.group(), own) and not _denied_twice(sentence, match):
                found[way.kind] = Steering(
                    way.kind, match.group(), start + match.start(), start + match.end()
                )
                break
    abroad = order_abroad(sentence)
    if abroad is not None and abroad.kind not in found:
        words_said = sentence[abroad.start : abroad.end]
        found[abroad.kind] = Steering(abroad.kind, words_said, start + abroad.start, start + abroad.end)
    if not found and not lead and not _READER_WORDS.isdisjoint(words):
        reader = _READERS.search(sentence)
        if (
            reader
            and not _is_own(reader.group(), own)
            and _TOLD.search(sentence)
            and not _NO_READER.search(sentence)
        ):
            found["orders"] = Steering("orders", reader.group(), start + reader.start(), start + reader.end())
    return list(found.values())


def _denied_twice(sentence: str, match: re.Match[str]) -> bool:
    """Never without asking: a sentence that wants people to be asked."""
    return match.group().lower().startswith("without") and bool(_DENIAL.search(sentence[: match.start()]))


def _is_own(words: str, own: Collection[str]) -> bool:
    """Whether a word that would steer is what the item itself works on."""
    return any(
        word in own
        for word in (one.lower().rstrip("s") for one in re.findall(r"[A-Za-z]+", words))
        if word in _OWN_KIND
    )
