"""Ways of saying the same in the texts of tools: phrases that stand for one sign each, and words for one another.

A phrase is written as it is read after articles and forms of *to be* are left out and negations are NOT.
"""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence

from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.split import word_set

_PHRASES_TEXT = """
GE: at least | NOT fewer than | NOT less than | NOT younger than | NOT lower than | NOT smaller than | NOT below
GE: NOT under
GE: at or above | or more | or above | or longer | or larger | or greater | or higher | or older | or over
GE: or later | or after
GE: on or after | NOT earlier than | NOT before | greater than or equal to | and up | upwards | and above
GE: onwards | and later
LE: at most | NOT more than | up to | as many as | as much as | NOT later than | NOT after | at the most
LE: or less | or fewer
LE: or below | or shorter | or smaller | or lower | or younger | or under | or earlier | or before
LE: on or before | maximum of | NOT above | NOT over
LE: at or below | NOT greater than | NOT higher than | NOT larger than | less than or equal to | at the longest
LE: NOT longer than | NOT exceed | NOT exceeding
GT: more than | greater than | larger than | bigger than | higher than | older than | longer than | in excess of
GT: exceeding | over | above
LT: less than | fewer than | smaller than | lower than | younger than | shorter than | below | under
ANY: at least one | one or more | one or several | any | any of | any one of | some of | either of | either
ANY: one of | or both
ALL: all of | all | entire | everyone | everybody | everything
EACH: each of | every one of | every one | every | each | each and every | every single
NOT: leave out | leaves out | left out | leaving out | other than | apart from | but for | except for | except
NOT: MAY NOT | NOT way to | NOT possible to | NOT possible
NOT: NOT part of | NOT part of result | unless | with exception of | lack | lacks | lacking | free of
NOT: excluding | excludes | excluded | exclude | without | exclusive of | exclusive | excl
NOT: skip | skips | skipped | skipping | omit | omits | omitted | ignore | ignores | ignored | disregard
NOT: disregarded | NOT counting | NOT counted | NOT including
reach: go to | goes to | bound for | arrive at | arrives at | arrive in | arrives in
ALSO: in addition to | as well as | along with | together with | on top of | also | too | additionally
ALSO: in addition
INCL: inclusive | included | including | include | includes | incl | inclusive of | itself included
INCL: counted as well
OPTIONAL: NOT required | may be left out | can be left out | may be omitted | can be omitted | need NOT given
OPTIONAL: NOT mandatory | if wanted | optional | optionally
REQUIRED: must given | has to given | have to given | must sent | mandatory | must set | must provided
REQUIRED: required | compulsory | obligatory
UNSET: NOT given | if omitted | when omitted | by default | NOT you say otherwise | NOT told otherwise
UNSET: NOT otherwise | if NOT set | NOT specified | NOT set
UNSET: when you leave it out | leave it out and | if missing | default to | defaults to | as default | default
UNSET: in absence of | leave it empty | if left out | when left out | if not passed | when not passed
UNSET: if you leave it out | if NOT passed | when NOT passed | if absent | when absent | if NOT provided
NOTFOUND: NOT found | NOT match | NOT matches | NOT matched | NOT matching | NOT result | NOT results
NOTFOUND: NOT hit | NOT hits
FINISHED: when done | once done | when finished | once finished | when complete | once complete | when ready
FINISHED: once ready | when completed | once completed | when it has finished | when it done
FINISHED: when it finished
UNTILDONE: until done | until finished | until complete | until ready | until completed
sort: in order of
character: characters long
word: words long
TIMEOUT: timeout | time out | how long to wait | longest time to wait | longest wait | longest to wait
TIMEOUT: wait before giving up | wait before give up
TIMEOUT: time to wait | maximum time to wait | maximum wait | MOST wait | MOST time to wait
FOREVER: for good | for ever | once and for all | beyond recovery | permanently | irreversibly | irrevocably
FOREVER: forever | permanent | irreversible
NOW: right now | at this moment | at the moment | at present | currently | present | current | now
LATEST: most recent | most recently | newest | latest | youngest
OLDEST: least recent | earliest | oldest | waited longest | waiting longest | longest waiting
MOST: largest | highest | biggest | greatest | upper bound | upper limit | max | maximum | most
MOST: maximum number of | largest number of
LEAST: minimum | minimum of | smallest | lowest | least | lower bound | lower limit | min | fewest
LEAST: minimum number of | smallest number of
DESC: latest first | newest first | most recent first | most recent one first | highest first | largest first
DESC: descending | descending order | in descending order | from high to low | reverse chronological
DESC: FROM LATEST to OLDEST | FROM MOST to LEAST
ASC: FROM OLDEST to LATEST | FROM LEAST to MOST
DESC: reverse order | FROM LATEST | LATEST first | LATEST one first | LATEST 1 first | LATEST on top | LATEST at top
DESC: LATEST one on top | LATEST 1 on top | LATEST at beginning | MOST first | MOST on top
ASC: earliest first | oldest first | lowest first | smallest first | ascending | ascending order
ASC: FROM OLDEST | OLDEST first | OLDEST one first | OLDEST 1 first | OLDEST on top | OLDEST at top | LEAST first
ASC: in ascending order | chronological | chronologically | in chronological order | from low to high
find: look up | find out
restore: bring back | put back | take back
cancel: call off
postpone: put off
submit: hand in
delete: get rid of | throw away | throw out
remove: take off | take away | take out
calculate: work out
register: sign up
perform: carry out
send: send out
rename: change name of | change name | give another name to
INCL: part of result | and other | among other | among others
AGAIN: second call | 1 second call | second run | 1 second run | 1 second time | calling again | called again
AGAIN: once more | second time | more than once | twice | several times | repeatedly | again
ATONCE: at once | right away | straight away | immediately | instantly | without delay | straightaway
ONLY: nobody but | nothing but | none but | NOT but | solely | exclusively | alone | only | just
MUST: have to | has to | need to | needs to | must | obliged to | required to
MAY: possible | allowed to | can | may | free to | permitted to | able to | possible to
SIGNIN: sign in | sign on | log in | log on | signing in | logging in | login | signed in | logged in | sign-in
SIGNIN: signin
RETRY: try again | tries again | tried again | trying again | retry | retried | retries
FROM: counted from | starting from | starting at | beginning at | beginning with | start at | start with
FROM: begin at | begin with | starts at | starts with | starting with | from | out of
NOCASE: case NOT | case does NOT matter | NOT case | case insensitive | case-insensitive | case insensitively
NOCASE: upper and lower case same | upper and lower case alike | upper and lower case treated alike
NOCASE: NOT case sensitive | in any case | case ignored | ignores case | ignoring case | case makes NOT difference
CASE: case sensitive | case-sensitive | case matters | case does matter | upper and lower case told apart
CASE: upper and lower case differ | upper and lower case distinguished | case distinguished | case significant
BEFORE: prior to | ahead of | earlier than | before
AFTER: after | following | subsequent to | later than
WITHIN: over last | over past | during last | during past | in last | in past | within last | within past
WITHIN: throughout last | throughout past | of last | of past
straight: as crow flies | as crow fly | straight line | straight-line | in straight line
BESTFIRST: best first | best on top | best at top | starting with best | beginning with best | best comes first
WITHIN: in the course of | during | within | throughout
PER: per | for each | for every
FALSE: off | disabled | false | turn off | turns off | turned off | switch off | switches off | switched off
TRUE: on by default | enabled | true | turn on | turns on | turned on | switch on | switches on | switched on
NULL: null
NET: net | NOT vat | vat NOT | NOT tax | tax NOT | taxes NOT | NOT taxes
GROSS: gross | INCL tax | INCL vat | tax INCL | vat INCL | with tax | with vat | taxes INCL | INCL taxes
NOLIMIT: NOT time limit | NOT upper limit | NOT limit | unlimited | NOT limited | limitless
DRAFT: draft
AMSL: amsl | above mean sea level | over mean sea level | above sea level
AGL: agl | above ground level | above ground | height over ground
SOG: over ground
ETA: eta | estimated time of arrival | expected time of arrival
ETD: etd | estimated time of departure | expected time of departure
FIFO: fifo | first in first out | in order of arrival | in order of their arrival
FIFO: in order in which they came in | in order in which they arrived | in order in which they came
LIFO: lifo | last in first out
MEDIAN: median | 50th percentile
TBD: tbd | to determined | NOT yet decided
ASAP: asap | as soon as possible
REPEATABLE: safe to call AGAIN | safe to run AGAIN | safe to send AGAIN | may called AGAIN | safe to AGAIN
REPEATABLE: idempotent | safe to repeat | safe to call again | may repeated safely
ASYNC: asynchronous | asynchronously | does NOT block | NOT wait
EVENIF: whether or NOT | regardless of whether | NOT matter whether | NOT matter if | regardless of
NOOP: AGAIN changes NOT | AGAIN change NOT | AGAIN does NOT change anything
NOOP: NOT further effect | NOT more effect | NOT effect | AGAIN NOT effect | NOT done twice | harmless
STALE: when last checked | when last seen | when last read | last known | at last check
STALE: cached | cache | snapshot of | as of last night | as of yesterday | may lag | lags behind | delayed
LIVE: live | real time | real-time | up to minute | up-to-date | up to date | to the second
READONLY: read-only | read only | does NOT alter anything | changes NOT | NOT changed | modifies NOT
ALLORNONE: all or nothing | all or none | atomic | atomically
BBOX: bbox | bounding box
HALF: half of
WINS: win | wins | prevail | prevails | take precedence | takes precedence | have priority | has priority
WINS: stands | survive
_: can used to | may used to | can used in order to | in order to | used to | used in order to | so on
_: return TRUE if | return TRUE when | TRUE if | TRUE when | FALSE otherwise | FALSE if NOT | FALSE when NOT
number: how many | how many times | number of times
_: otherwise FALSE | or FALSE | supported
_: may contain | can contain | may include | can include
_: and so on | function can used | if true | when true | set true | set to true to | true to | if set | when set
_: set to true | set true to | as written | whether to | list of | set of | array of | collection of
"""
_SAME_TEXT = """
get fetch retrieve read show return give list display look see view obtain provide supply present report answer yield
find search seek locate discover lookup
delete remove erase destroy
create make add insert register
change update edit modify alter amend adjust
check verify validate examine
check determine tell
tell say report state inform
free available vacant
begin start
end finish stop close
send transmit dispatch
keep retain preserve remain stay
take accept
permit allow
choose select pick
want draft desire like
use employ apply
contain hold carry comprise
number count amount quantity
hour hr
big large great
small little
folder directory
picture image photo img photograph
message msg
document doc
mail email
url link uri href
customer client
worker employee
location place position
kind type sort category
id identifier
phone telephone
trip journey travel
price cost
repository repo
config configuration setting
parameter argument arg param
error fault failure
beginning start
last final
begin prefix
whole full
space blank
precise exact
fast quick
replace overwrite
lat latitude
lon lng longitude
temp temperature
alt altitude
org organization organisation
app application
env environment
info information
qty quantity
avg average mean
approx approximately roughly about circa
dept department
addr address
num number
prev previous
src source
dest destination
spec specification
min minimum
sec second
ref reference
tz timezone
max maximum
stats statistic
admin administrator
auth authentication
db database
dev developer development
prod production
lib library
ext extension
vat tax
grant give
whole total overall entire
turn convert
order sort rank arrange
record store save log
remind reminder
vessel ship boat
lorry truck
car automobile
film movie
flat apartment
holiday vacation
guest visitor
upcoming next coming
nobody none
calculate compute figure
or otherwise else
"""


def _base(word: str) -> str:
    return lemma(word) if word.isalpha() and word.islower() else word


LEFT_OUT = word_set(
    """
a an the is are be was were been being am it its this that these those there here which who whom whose what i
my me we us our you your they them their he his she her please simply
"""
)
"""Words that say nothing of their own beside others."""

_Phrase = tuple[str, ...]


@functools.cache
def _begun() -> dict[str, list[tuple[_Phrase, str]]]:
    """Return the phrases with their signs by their first words, and by the base of these."""
    found: dict[str, list[tuple[_Phrase, str]]] = {}
    for line in _PHRASES_TEXT.strip().splitlines():
        sign, _, told = line.partition(": ")
        for phrase in told.split(" | "):
            telling = tuple(word for word in phrase.split() if word not in LEFT_OUT)
            for first in {telling[0], _base(telling[0])}:
                found.setdefault(first, []).append((telling, sign))
    return found


@functools.cache
def _phrases(first: str) -> list[tuple[_Phrase, str]]:
    """Return the phrases that begin with a word, as they are written and by base forms, the longest first.

    They are worked out for the words that are met: bases take long to look up.
    """
    found: dict[_Phrase, str] = {}
    for telling, sign in _begun()[first]:
        for words in (telling, tuple(map(_base, telling))):
            if words[0] == first:
                found.setdefault(words, sign)
    return sorted(found.items(), key=lambda row: -len(row[0]))


_GROUPS: dict[str, frozenset[int]] = {}
for _number, _line in enumerate(_SAME_TEXT.strip().splitlines()):
    for _word in _line.split():
        _GROUPS[_word] = _GROUPS.get(_word, frozenset()) | {_number}


def signs(words: Sequence[str]) -> Iterator[str]:
    """Yield words in order, each phrase that stands for a sign as that sign; the longest phrase first."""
    begun = _begun()
    at = 0
    while at < len(words):
        for phrase, sign in _phrases(words[at]) if words[at] in begun else ():
            if tuple(words[at : at + len(phrase)]) == phrase:
                if sign != "_":
                    yield sign
                at += len(phrase)
                break
        else:
            yield words[at]
            at += 1


def one_group(one: str, other: str) -> bool:
    """Whether the table has two base forms as words for one another."""
    return not _GROUPS.get(one, frozenset()).isdisjoint(_GROUPS.get(other, ()))
