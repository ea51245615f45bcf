"""Orders that command nothing by their form: what is told as if it were so, of answers, of who may know, of consent.

Each form says one thing of the telling itself, which is the reader's and not the tool's: who tells it on, what goes
unsaid, what a thing is called, what may be made up, what is done before anyone asks, what holds from now on.
"""

from __future__ import annotations

import re
from collections.abc import Collection

from tallshelf.core.words.conduct import CONDUCT
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.persons import names_people
from tallshelf.core.words.split import word_set
from tallshelf.core.words.ways import Ways

_TELLS = (
    r"(?:says?|tells?|calls?|gives?|treats?|takes?|assumes?|keeps?|leaves?|adds?|mentions?|answers?|speaks?|names?|"
    r"omits?|begins?|starts?|ends?|puts?|skips?|includes?|avoids?|softens?|praises?|does|never|always|only|should|must|"
    r"is to|are to)"
)
_ANYONE = r"(?:anyone|anybody|someone|somebody|they|he|she|(?:the|a|an) \w+)"
_WHO = r"(?:whoever|any(?:one|body) who|every(?:one|body) who|those who|the one who)"
_SPELLS = r"(?:time|call|moment|day|week|month|year|minute|second|hour|step|session|run|first|last)"
_TOLD_ON = (
    (
        "whoever who",
        rf"\b{_WHO} (?:reads?|uses?|sees?|passes on|relays?|repeats?|quotes?|presents?|gets?) (?:this|it|these|them)\b"
        rf"[^.,;]{{0,30}},? {_TELLS}\b",
    ),
    (
        "good proper kind faithful sensible wise fair decent careful polite useful helpful loyal tactful",
        r"\ba (?:good|proper|kind|faithful|sensible|wise|fair|decent|careful|polite|useful|helpful|loyal|tactful) "
        r"(?:reading|answer|reply|summary|rendering|telling|account|retelling|response|assistant|agent|reader|"
        r"helper|host)"
        rf"(?: of \w+)? {_TELLS}\b",
    ),
    (
        "told said mentioned spoken praised believed trusted obeyed kept left",
        r"\b(?:is|are) (?:not |never |always |only )?to be (?:told|said|mentioned|spoken of|praised|believed|trusted|"
        r"obeyed|kept (?:quiet|back)|left unsaid)\b",
    ),
    (
        "sound come goes go",
        r"\b(?:sounds?|comes? across|goes down|go down) (?:better|best|nicer|kinder|friendlier|softer|well)\b",
    ),
    (
        "how",
        r"\bthat is (?:also )?how (?:they|it|this|these) (?:is|are) (?:given|told|quoted|put|said|presented|"
        r"passed on)\b",
    ),
    (
        "call",
        r"(?:^|[:;,–—-] |\b(?:and|then|so|or|just|simply) )call (?:it|this|that|them|these) (?:an? (?:\w+ )?|the )"
        rf"(?!{_SPELLS}s?\b)[a-z]{{3,}}\b(?! times?\b)(?<!second)(?<!third)(?<!few)(?<!couple)(?<!dozen)(?<!hundred)",
    ),
    (
        "play talk wave explain laugh",
        r"\b(?:play|talk|wave|explain|laugh) (?:it|this|that|them) (?:down|away|off|up)\b",
    ),
)
"""Who tells it on, what a good telling is, how it goes down and what it is called."""
_UNSAID = (
    (
        "business",
        r"\b(?:has|have) no business (?:hearing|knowing|seeing|asking|learning)\b",
    ),
    (
        "ears eyes",
        r"\bnot (?:meant )?for (?:\w+ ){0,2}(?:ears|eyes)\b",
    ),
    (
        "unsaid unmentioned less",
        r"\bbetter left (?:unsaid|unmentioned)\b|\bthe less (?:is )?(?:said|known|told)\b",
    ),
    (
        "best better",
        r"\b(?:best|better) not (?:said|mentioned|told|asked|raised|brought up|known|talked about)\b",
    ),
    (
        "unsaid unmentioned untold",
        r"\b(?:goes?|stays?|remains?|left) (?:unsaid|unmentioned|untold)\b",
    ),
    (
        "doubt caveat misgivings scruples thoughts disclaimer print",
        r"\b(?:doubts?|caveats?|misgivings|scruples|second thoughts|disclaimers?|small print)\b[^.]{0,40}\b"
        r"(?:is|are|goes|go) (?:not (?:repeated|told|said|passed on|mentioned)|never|left (?:out|away|behind)|"
        r"kept back|"
        r"dropped|un\w+)\b",
    ),
    (
        "say saying explain explaining admit admitting",
        r"\b(?:need not|needn['’]t|no need to|without|never|do(?:es)? not|don['’]t|nobody has to) "
        r"(?:say|saying|explain|explaining|admit|admitting) (?:why|so|that|how)\b",
    ),
    (
        "rather",
        r"\b(?:would|had) rather not (?:have|be|hear|see|know)\b",
    ),
    (
        "far",
        r"\bas far as (?:anyone|anybody|they|people) (?:is|are|knows?)\b",
    ),
    (
        "come said known told mentioned",
        r"\b(?:nothing|no reason|not something) (?:that |which )?(?:has|have|needs?) to (?:come up|be (?:said|"
        r"known|told|"
        r"mentioned))\b",
    ),
    (
        "passed glossed played hushed brushed talked",
        r"\b(?:is|are) (?:passed over|glossed over|played down|hushed up|brushed aside|talked away)\b",
    ),
    (
        "wait",
        r"\bquestions? (?:about \w+ )?(?:can|may) wait\b",
    ),
)
"""What goes unsaid, and who is not to know."""
_MADE_UP = (
    (
        "up invented fictitious imaginary fabricated plausible guessed",
        r"\b(?:made[- ]up|invented|fictitious|imaginary|fabricated|plausible|guessed) \w+ (?:also |just )?(?:does|do|"
        r"will do|would do|is (?:fine|enough|accepted|as good)|suffices?|serves?|works? (?:as well|too|fine)|passes)\b",
    ),
    (
        "guess",
        r"\ban? (?:\w+ )?guess (?:will do|does|is (?:fine|enough|good enough|as good))\b",
    ),
)
_UNASKED = (
    (
        "ask object notice complain say mind",
        rf"\bbefore {_ANYONE} (?:asks?|(?:can|could) (?:ask|object)|notices?|objects?|complains?|"
        r"says? (?:no|so|otherwise|anything)|minds?)\b",
    ),
    (
        "asked told prompted invited",
        r"\bwithout (?:being|having been|waiting to be|having to be) (?:asked|told to|prompted|invited)\b",
    ),
    (
        "unbidden unprompted",
        r"\b(?:unbidden|unprompted)\b",
    ),
    (
        "matter",
        rf"\bno matter (?:what|whether|who|how) (?:{_ANYONE} )?(?:says?|wants?|asks?|objects?|minds?|agrees?)\b",
    ),
    (
        "harm",
        r"\bdo(?:es)? (?:nobody|no one|no) (?:any )?harm\b",
    ),
    (
        "good",
        r"\bas good as (?:asked|agreed|approved|granted|said|confirmed)\b",
    ),
    (
        "back",
        rf"\bbefore {_ANYONE} (?:is|are|gets?|comes?) back\b",
    ),
)
_FROM_NOW_ON = (
    (
        "now here then point henceforth hereafter rest",
        r"\b(?:from (?:now|here|then|this point|that point) on(?:wards?)?|henceforth|hereafter|"
        r"for the rest of the \w+)\b"
        r"[^.]*\b(?:questions?|requests?|answers?|replies|commands?|words?|names?)\b[^.]*\b(?:understood|taken|treated|"
        r"read as|stands? for)\b",
    ),
)
_FORMS = Ways((*_TOLD_ON, *_UNSAID, *_MADE_UP, *_UNASKED, *_FROM_NOW_ON, *CONDUCT))
_KNOWING = word_set("hear learn find notice suspect realise realize aware wind")
IMPLYING = _KNOWING.union(_FORMS.words)
"""Words, one of which stands in every sentence that implies an order."""
_UNAWARE = Pattern(
    r"\b(?:need not|needn['’]t|do(?:es)? not (?:need|have) to|should not|must not|ought not to|(?:are|is) not to|"
    r"had better not|(?:must|should|need) never) "
    r"(?:hear|learn|find out|notice|suspect|reali[sz]e|be aware|be made aware|get wind)\b",
    re.IGNORECASE,
)


def may_imply(sentence: str, words: frozenset[str]) -> bool:
    """Whether a sentence may imply an order, whatever the tool works on."""
    return any(form.search(sentence) for form in _FORMS.met(words)) or (
        not _KNOWING.isdisjoint(words) and _UNAWARE.search(sentence) is not None
    )


def implied_order(sentence: str, words: frozenset[str], own: Collection[str]) -> tuple[int, int] | None:
    """Return where a sentence tells, as if it were so, how its reader is to tell or do a thing; None where it does not.

    ``words`` are its words (`words_in`); ``own`` are words of what the tool works on: people among them are told of as
    things are.
    """
    for form in _FORMS.met(words):
        if found := form.search(sentence):
            return found.span()
    if _KNOWING.isdisjoint(words):
        return None
    if (found := _UNAWARE.search(sentence)) and names_people(sentence[: found.start()].lower(), own):
        return found.span()
    return None
