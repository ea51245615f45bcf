"""What a tool does, by its verbs and by what its text says of it: whether it changes something, for good, again."""

from __future__ import annotations

import re

from tallshelf.core.words.classes import VERB_CLASSES, verb_class, writes
from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.remembered import remembered
from tallshelf.core.words.sentences import LONGEST, sentences
from tallshelf.core.words.split import sentence_words, word_set

# The files of WordNet's verbs whose acts change the world: bodies, change, competition, contact, consumption,
# motion, possession, society.
_CHANGING = frozenset({29, 30, 33, 34, 35, 38, 40, 41})
_ACTS_BY_WORDS = word_set(
    """
acknowledge accept authorise authorize countersign sign invite nominate order book page ring dial fax text dun sue
apply petition summon admit discharge witness certify declare decree announce promise pledge pardon excuse appoint
register log note cast mint clone copy duplicate dim top
"""
)
"""Verbs of saying, knowing and seeing by which, where one leads a text, something is done all the same."""
_MAINLY_A_VERB, _ALSO_A_VERB = 0.6, 0.2
_LOOKS = frozenset().union(
    *(VERB_CLASSES[name] for name in ("read", "list", "find", "check", "count", "export"))
) | word_set(
    """
compare analyse analyze assess summarise summarize translate convert parse preview simulate forecast predict rank sort
filter group measure inspect trace track monitor watch poll ping probe scan map locate geocode suggest recommend propose
propound explain tell name identify detect classify diff decode encode format render draw plot resolve follow match give
return work solve answer ask query pick choose calculate project pull yield serve help return go come run make
have want need wait print split join extract fill complete cover hit meet pass reach
state mean say speak hear compose build price weigh grade quote cost abbreviate simplify
"""
)
_LIGHT = word_set("put take hold keep carry throw let give bring lay turn draw pull push lead")
"""Verbs that say little: where one leads a text, something is moved unless a result is told of."""
_SETS, _FORTH = word_set("set lay spell"), word_set("out forth")
_HARDLY_A_VERB = 0.05
_BEFORE_OBJECTS = word_set("a an the all any every each one this its their your")
_WRITES_TEXT = Pattern(
    r"\b(?:is|are|gets?)\s+(?:then\s+|also\s+|thereby\s+)?(?:moved to|marked as|deleted|discarded|booked|"
    r"charged|paged|taken|overwritten|replaced|shortened|brought (?:into|up)|reset|locked|notified|removed|consumed|"
    r"used up|put (?:on|in|into))\b|"
    r"\bmoves? on by\b|\bcan(?: no longer|not| ?n['’]t) be (?:altered|changed|undone|brought back|reopened)\b|"
    r"\b(?:flag|mark|lock|entry|record|counter)\b[^.]{0,30}"
    r"\b(?:goes away|is gone|is cleared|begins? at|starts? at|is set)\b|"
    r"\bside[- ]effects?:",
    re.IGNORECASE,
)
_AND_DOES = Pattern(
    r"\b(?:and|then)\s+(?:then\s+|also\s+|thereby\s+)?([a-z]{3,20}s)\s+"
    r"(?:it|them|its|their|the|an?|all|every|each|this)\b",
    re.IGNORECASE,
)
"""What is done besides: reads the list and empties it."""
_BECOMES = Pattern(
    r"^(?:the|an?|stock) [^.,;]{1,60}?"
    r"\b(?:becomes|goes (?:out|away|back|into|over)|travels|stands under|moves (?:to|into)|"
    r"may not be|can no longer|loses|receives its)\b",
    re.IGNORECASE,
)
_WRITTEN_OUT = Pattern(
    r"\W*expands? [^.]{0,60}?"
    r"\b(?:codes?|links?|urls?|tokens?|names?|abbreviations?|acronyms?|macros?|templates?|variables?)\b",
    re.IGNORECASE,
)
_NAMES_ANOTHER = Pattern(r"\b[a-z]+_[a-z]")
_CHANGES_NOTHING = Pattern(
    r"\bread[- ]only\b|\bnothing (?:is|gets) (?:changed|stored|altered|written|booked|moved)\b|\bno side[- ]effects?\b|"
    r"\bis (?:left|kept) (?:alone|untouched|as it is)\b|\bin memory and return|"
    r"\b(?:does not|doesn['’]t|never) (?:change|changes|modif|write|writes|alter|alters|touch|touches)\w*",
    re.IGNORECASE,
)
_CONDITION = Pattern(r"\b(?:if|unless|when|where|until|otherwise|in case|fails?)\b", re.IGNORECASE)
_FOR_GOOD = Pattern(
    r"\bcan(?:not| ?n['’]t| no longer) be (?:brought back|undone|restored|recovered|reversed)\b|"
    r"\bover the (?:present|old|existing|"
    r"current)\b|\bwhat (?:was|is|stood|stands|hung|lay) (?:in|on|at|there)\b[^.]*\b(?:gone|lost)\b|"
    r"\b(?:permanently|irreversibl\w+|for good|for ever)\b|\b(?:overwrites|erases|discards|wipes)\b",
    re.IGNORECASE,
)
_ONLY_ADDS = Pattern(
    r"\bonly adds\b|\bnever (?:drops|deletes|removes|overwrites)\b|\bnothing is (?:lost|removed|deleted)\b|"
    r"\bno (?:earlier|other|existing|older|previous) \w+ (?:is|are) "
    r"(?:touched|changed|lost|removed|replaced|altered)\b",
    re.IGNORECASE,
)
_AGAIN_SAME = Pattern(
    r"\b(?:second|repeated|another) call\b[^.]*\b(?:leaves|changes nothing|no (?:further )?effect|as it is|"
    r"same)|(?<!not )(?<!n['’]t )(?<!non-)\bidempotent\b|"
    r"\b(?:again|twice)\b[^.]*\b(?:changes nothing|no (?:further )?effect|has the same|as it is)",
    re.IGNORECASE,
)
_AGAIN_MORE = Pattern(
    r"\b(?:a|the) second (?:time|call|run|try|go)\b[^.]*\b(?:costs?|takes?|uses?|books?|charges?|adds?|sends?|orders?|"
    r"makes?|prints?)\b(?! (?:nothing|no)\b)|\b(?:costs|takes|uses up|books|orders) (?:a second|another|a further) \w+|"
    r"\b(?:adds|creates|appends|inserts|sends|books|charges|posts)\b[^.]*\b(?:each|every) (?:time|call)\b|"
    r"\b(?:calling|called) (?:it )?twice\b[^.]*\b(?:two|double|again)|\b(?:a )?(?:fresh|new|"
    r"another)\b[^.]{0,30}\b(?:at|on|with|for) (?:each|every) call\b|"
    r"\b(?:each|every) call\b[^.]*\b(?:another|again|more|one|its own|separate(?:ly)?|anew)\b|"
    r"\b(?:not|n['’]t) idempotent\b|\bnon-?idempotent\b|"
    r"\bon if [^.]{0,20}\boff\b[^.]{0,10}\boff if\b|^(?:toggles?|flips?) |\bon top of (?:whatever|what|the)\b",
    re.IGNORECASE,
)
_OUTSIDE = Pattern(
    r"\b(?:all over the web|on the web|the (?:open|public|whole) web|"
    r"(?:any|public|press|other) (?:web ?sites?|sites?|hosts?)|"
    r"the internet|(?:public|outside|external|third[- ]party) (?:\w+ )?"
    r"(?:network|register|registry|service|system|provider|api)|"
    r"(?:register|registry|service|system|authority|office)s? outside (?:the|this|our))\b",
    re.IGNORECASE,
)
_INSIDE = Pattern(
    r"\bthis server alone\b|\btouches nothing outside\b|\bnothing outside (?:it|this)\b|\bwithout any network\b|"
    r"\bno network is (?:involved|used|needed)\b",
    re.IGNORECASE,
)


@remembered(8_192, 40)
def changes(verb: str, *, leads: bool = False) -> bool:
    """Whether a verb, in whatever form, is one by which something is changed, given, sent or moved.

    A word that ``leads`` a text is a verb there; in a name it is one where it is used as one mostly.
    """
    base = lemma(verb)
    if is_look(verb) or verb_class(base) is not None:
        return writes(verb) or writes(base)
    if leads and base in _ACTS_BY_WORDS:
        return True
    found = parts(base).get("v")
    return found is not None and found.file in _CHANGING and (leads or verb_share(base) >= _MAINLY_A_VERB)


def is_look(verb: str) -> bool:
    """Whether a verb is one by which something is only looked at or worked out."""
    return verb in _LOOKS or lemma(verb) in _LOOKS


def lead_verb(text: str) -> str:
    """Return the first word of a text where it is a verb that says what is done: "Unlocks a door".

    What is set out or laid out how things are is told, and a word that is hardly ever a verb is one before its object
    only: "Concrete pours of a site".
    """
    words = sentence_words(text[:80])
    base = lemma(words[0]) if words else ""
    if parts(base).get("v") is None:
        return ""
    after = words[1] if len(words) > 1 else ""
    if base in _SETS and after in _FORTH:
        return "tell"
    return words[0] if verb_share(base) >= _HARDLY_A_VERB or after in _BEFORE_OBJECTS else ""


def says_it_writes(text: str) -> bool:
    """Whether a text says, beyond what it begins with, that something is changed by a call."""
    return any((start and _WRITES_TEXT.search(one)) or _does_besides(one) for one, start in sentences(text))


def _does_besides(sentence: str) -> bool:
    if not sentence.lstrip().split(" ", 1)[0].endswith("s"):
        return False  # what follows a verb of another form is no second one
    bases = (lemma(found[1].lower()) for found in _AND_DOES.finditer(sentence))
    return any(
        changes(base, leads=True) and (base in _ACTS_BY_WORDS or verb_share(base) >= _ALSO_A_VERB)
        for base in bases
    )


def says_it_is_written_out(text: str) -> bool:
    """Whether a text begins with what is only written out: "Expand a short code into its full name"."""
    return _WRITTEN_OUT.match(text) is not None


def says_what_becomes(text: str) -> bool:
    """Whether a text tells what becomes of a thing by a call, instead of what is done: "The deed becomes final"."""
    return _BECOMES.search(text[:LONGEST]) is not None


def is_light(verb: str) -> bool:
    """Whether a verb says little of what is done, as put, take and hold."""
    return verb in _LIGHT or lemma(verb) in _LIGHT


def says_it_only_reads(text: str) -> bool:
    """Whether a text says that nothing is changed by a call, whatever becomes of it."""
    if not _CHANGES_NOTHING.search(text):
        return False
    told = (one for one, _ in sentences(text) if not _CONDITION.search(one))
    return any(_CHANGES_NOTHING.search(one) for one in told)


def says_for_good(text: str) -> bool:
    """Whether a text says that what it does cannot be undone, or that it puts something in place of what there is."""
    return any(_FOR_GOOD.search(one) for one, _ in sentences(text) if not _NAMES_ANOTHER.search(one))


def says_only_adds(text: str) -> bool:
    """Whether a text says that nothing is lost by a call."""
    return _says(_ONLY_ADDS, text)


def says_of_repeating(text: str) -> bool | None:
    """Return whether a text says that the same call again has no further effect; None where it says neither."""
    if _says(_AGAIN_MORE, text):
        return False
    return True if _says(_AGAIN_SAME, text) else None


def says_of_outside(text: str) -> bool | None:
    """Return whether a text says that a call reaches beyond its own system; None where it says neither."""
    if _says(_INSIDE, text):
        return False
    return True if _says(_OUTSIDE, text) else None


def _says(pattern: Pattern, text: str) -> bool:
    if len(text) <= LONGEST:  # no pattern looks beyond a full stop
        return pattern.search(text) is not None
    return any(pattern.search(one) for one, _ in sentences(text))
