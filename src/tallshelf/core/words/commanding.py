"""What a sentence commands, by its mood and its verb.

It commands where, after what leads up to it, a verb stands in its base form, or where it says what you, or the model,
must, should or need not do.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from tallshelf.core.words.lexicon import lemma, parts, verb_share
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import word_set

_LEADING = Pattern(
    r"(?:(?:and|then|also|so|but|or|please|kindly|just|simply|first|next|finally|instead|otherwise|afterwards|lastly|"
    r"in (?:that|this|such|any) case|from (?:now|here|then) on|at all times|note|important|hint|tip|attention|"
    r"be sure to|make sure to|feel free to|you may want to|(?:try|attempt|seek|aim|strive|remember|do your best) to|"
    r"(?:remember|mind|be aware|beware|keep in mind|bear in mind) that)[,:]?\s+)+",
    re.IGNORECASE,
)
_CONDITION = Pattern(
    r"(?:when(?:ever)?|if|once|after|before|while|until|unless|as soon as|every time|each time|in case|should|whatever|"
    r"whichever|wherever|no matter \w+|even (?:if|when|where)|during|in|on|at|with|for|to)\b[^,;:.]{2,120}[,;:]\s+",
    re.IGNORECASE,
)
_TOLD = Pattern(
    r"(?:you|the (?:\w+ )?(?:assistant|model|agent|ai|llm|bot|reader)s?|"
    r"(?:who|any)(?:ever|one|body) (?:reads|reading) this|the reader of this \w+)\s+"
    r"(?:must|should|shall|ought to|have to|has to|needs? to|may|might|can|could|are to|is to|"
    r"(?:are|is) (?:expected|asked|free|welcome|advised|allowed|told|supposed|authori[sz]ed|cleared|entitled|"
    r"permitted) to)\s+|"
    r"it(?: is|['’]s| would be| will be| may be) (?:(?:quite|always|usually|often|also|perfectly) )?"
    r"(?!possible|impossible|used|meant|up|necessary|required)\w+ (?:enough )?to\s+|"
    r"(?:the )?\w+ (?:will|would|do|does)(?: not|n['’]t) (?:mind|object|notice|complain) (?:if|when) you\s+",
    re.IGNORECASE,
)
_IT_IS = Pattern(r"it(?: is|['’]s| would be| will be| may be) ", re.IGNORECASE)
_FORBIDS = Pattern(
    r"(?:do not|don['’]t|never|no need to|"
    r"(?:there is|there['’]s) no (?:need|reason|point|call|use|harm|shame|risk) (?:to|in|for)|"
    r"(?:there is )?nothing (?:is )?(?:to be )?gained by|"
    r"refrain from|avoid|under no circumstances|(?:you )?need not|"
    r"(?:you )?(?:need|must|should|may|shall)(?: not|n['’]t))\s+",
    re.IGNORECASE,
)
_ADVERB = Pattern(
    r"(?:not|never|always|also|first|only|just|simply|quietly|silently|secretly|still|then|even|ever)\s+",
    re.IGNORECASE,
)
WORD = Pattern(r"[A-Za-z]+(?![\w-])")
_NO_COMMAND = Pattern(r"\s+(?:of|is|are|was|were|has|had|will|can|may)\b|\s*[:,]|\s*$", re.IGNORECASE)

SPEAKING = word_set(
    """
answer reply respond say mention pretend claim apologise apologize greet thank congratulate insist promise brag
reassure blame persuade convince recommend praise boast joke flatter speak invent fabricate
steer nudge sway coax urge dissuade encourage discourage overlook conceal withhold downplay understate exaggerate
embellish
"""
)
"""What somebody does who talks, sways or covers up: no tool is used so."""
TELLING = word_set(
    "tell inform present show explain describe report warn notify alert assure advise remind suggest state"
)
_STATES = word_set("a an it its each every both by of and/or")
_LEADS = word_set("always afterwards unless as there's there’s")


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
    if (first in _STATES and not _IT_IS.match(sentence)) or (first.endswith("s") and first not in _LEADS):
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
    word = WORD.match(sentence, at)
    if word is None:
        return None
    verb = word.group().lower()
    base = lemma(verb) if forbids and verb.endswith("ing") else verb
    rest = sentence[word.end() :]
    if not begins and not rest.strip(" ."):
        return None  # one word, such as the last of a sentence that is wrapped
    if not _is_command(base, verb, rest, named or forbids):
        return None
    return Command(base, begins, forbids, condition, sentence[begins:], named)


def _is_command(base: str, verb: str, rest: str, led: bool) -> bool:
    if "v" not in parts(base) or lemma(base) != base or (not led and verb != base):
        return False
    if led:
        return True
    known = base in SPEAKING or base in TELLING
    return (known or verb_share(base) >= 0.5) and not _NO_COMMAND.match(rest)
