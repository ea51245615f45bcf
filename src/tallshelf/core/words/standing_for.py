"""What may stand for a word that is asked for: synonyms, verbs of the same work, what the trades call it else."""

from __future__ import annotations

import functools

from tallshelf.core.words.acts import is_light
from tallshelf.core.words.classes import VERB_CLASSES
from tallshelf.core.words.lexicon import base_forms, is_word, lemma, words_for
from tallshelf.core.words.meaning import alike

SAME = 0.8
"""How near is what is the same thing by another name."""
RELATED = 0.65
"""How near is what people ask by for it, in the trades at large."""
_SYNONYM, _SAME_WORK = 0.55, 0.5
# What people ask by, and what tools say, in the trades at large.
_RELATED_TEXT = """
leave depart departure departing sail sailing go
arrive arrival arriving come due
ferry boat ship vessel sailing
buy purchase order
bill invoice
staff crew employee worker personnel
repair fix mend maintenance defect
weather forecast temperature rain wind
cost price fee fare charge amount
pay payment transfer
car vehicle truck
room bed booking reservation
book reserve reservation booking order
free available availability vacant open
customer client guest passenger
doctor physician practitioner
picture image photo screenshot
page website url web
bug issue ticket defect problem
error log exception failure
undo revert restore rollback
save store write keep
remember memory note store
meeting event calendar appointment
todo task reminder
chat message conversation channel
folder directory path
code source repository file
merge pull request
branch commit git
table database query sql row record
graph chart plot diagram
video clip movie
music song track playlist
translate language
map route direction location place
near nearby closest nearest
late delay delayed
cancel withdraw abort
money currency exchange rate
share stock equity
news article headline
paper publication study
phone call number
address postcode location
time clock timezone date
password secret credential
run execute command script
container pod
internet web online website
server host machine
user account member person people
merge join combine concatenate unite
done complete completed finish finished close closed tick
uuid identifier id guid
ttl expiration expire expiry
block dependency dependent prerequisite
unread unseen
drive travel route direction
retry rerun restart redo repeat again
restore undelete untrash recover undo
trash bin delete
k8s kubernetes
repo repository
detect identify recognise
vacation holiday absence
many count number
tz timezone zone
doc docs document documentation
gym workout exercise training fitness lift routine
training workout exercise routine lesson course
plan routine schedule program
shop store commerce product
article product item goods
buyer purchaser customer client order
purchase order
column field property attribute
row record entry line
umbrella rain weather
crm contact company deal
link associate association relation connect
sheet worksheet tab spreadsheet workbook
undo reset discard
stash shelve
rating review recommendation score
graph node relationship entity
fact observation note memory
contact person customer
slide presentation deck
subtitle caption transcript
author writer creator blame
wrote author blame
total sum aggregate
tab page window
speed performance latency
bar chart
login auth session sign
holder owner shareholder
headline news
calc calculate compute arithmetic
snippet code script
ticker stock symbol share
pic picture image photo
button click press
layout structure
preprint paper
mr merge request
pr pull request
"""
_READING = frozenset({"read", "list", "find"})
_SHORTEST_COMPOUND, _SHORTEST_HALF = 7, 3


def may_stand_for(word: str) -> dict[str, float]:
    """Return the base forms that may say what a word asks for, each with how nearly, from 0 to 1."""
    own = lemma(word)
    # A verb that says little of what is done, as make or take, has synonyms for everything.
    found = {} if is_light(own) else dict.fromkeys(words_for(own), _SYNONYM)
    found |= dict.fromkeys(_related().get(word, frozenset()) | _related().get(own, frozenset()), RELATED)
    found |= dict.fromkeys(alike(own), SAME)
    found |= dict.fromkeys(like_verbs(word), _SAME_WORK)
    found.pop(word, None)
    return found


@functools.lru_cache(maxsize=1)
def _related() -> dict[str, frozenset[str]]:
    found: dict[str, frozenset[str]] = {}
    for line in _RELATED_TEXT.strip().splitlines():
        words = frozenset(line.split())
        for word in words:
            found[word] = found.get(word, frozenset()) | words - {word}
    return found


def like_verbs(verb: str) -> frozenset[str]:
    """Return the verbs of the same work; who looks for something does not care how it is read."""
    found: frozenset[str] = frozenset()
    for name in verb_classes(verb):
        found = found.union(*(VERB_CLASSES[one] for one in (_READING if name in _READING else (name,))))
    return found


@functools.lru_cache(maxsize=4_096)
def verb_classes(verb: str) -> frozenset[str]:
    """Return all classes that a verb may be of, in whatever form: one opens a file, and opens a request."""
    base = lemma(verb)
    return frozenset(name for name, words in VERB_CLASSES.items() if verb in words or base in words)


def halves(word: str) -> tuple[str, ...]:
    """Return the two words that a compound is made of, as flow and chart; nothing where it is none."""
    if len(word) < _SHORTEST_COMPOUND:
        return ()
    for at in range(len(word) - _SHORTEST_HALF, _SHORTEST_HALF - 1, -1):
        if is_word(word[:at]) and any(map(is_word, base_forms(word[at:]))):
            return word[:at], word[at:]
    return ()


def is_misspelt(word: str) -> bool:
    """Whether a word is none that is known: only such are read as others. A number is no other number."""
    return len(word) > 2 and not word.isdigit() and not any(map(is_word, base_forms(word)))
