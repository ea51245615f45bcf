"""Words of which at most one holds of the same thing: where one went and another came, the meaning moved."""

from __future__ import annotations

# Sides are apart by a slash; the words of one side do not exclude each other.
_TABLE = """
start begin / end finish / whole
first / last final / next
open / close / lock
keep stay retain / delete remove erase clear wipe discard drop replace overwrite go
add append merge / replace overwrite / remove
DRAFT / send / issue publish final firm online
bin trash archive restore / FOREVER erase
TRUE / FALSE
ALL EACH / ANY
BEFORE / AFTER / WITHIN
GE GT / LE LT
MUST REQUIRED / MAY OPTIONAL
GROSS / NET
mean average / MEDIAN median HALF / total sum / MOST longest / LEAST shortest
own / ALL EACH every / other
straight / walk road rail drive
LATEST / OLDEST
DESC LATEST / ASC OLDEST / relevance / alphabetical
unit:UTC / unit:local time local / standard / legal
unix epoch / iso unit:year first / unit:day first / unit:month first
NOW straight LIVE / delay STALE yesterday nightly
exact exactly full whole / prefix begin start / phrase / fuzzy / part substring partial contain
INCL / AFTER GT LT
same / another other
same / new
whole full / tenth / hundredth
wait ready finish until FINISHED UNTILDONE block / ATONCE job accept queue enqueue background ASYNC later
ATONCE / once AFTER until
error fail / silent silently
suggest propose recommend / apply send make
error fail raise refuse / EMPTY NULL empty / closest near
preview simulate estimate would / apply execute perform make open book
id identifier uuid / name title / number / slug / code / login / email
text / pdf / markdown / html / json / csv / base64 xml / expression regex / wildcard glob
comma / semicolon / point / space / tab / pipe
up / down / near
north / south
east / west
left / right
import / export
buy / sell
credit / debit
public / private
positive / negative
local / remote
leave / reach
sender / recipient
given / family
fiscal / calendar
client / server
NOLIMIT / LE
CASE / NOCASE
SOG / through
ONLY / whole full complete entire
active current valid / expired expire inactive lapse
copy / original
wait / give
PER / total
pay / free gratis
publish plan schedule / amend actual revise
ONLY / EVENIF
prefix / suffix
"""
_SIDES = [[side.split() for side in line.split(" / ")] for line in _TABLE.strip().splitlines()]
_AGAINST: dict[str, set[str]] = {}
for _line in _SIDES:
    for _at, _side in enumerate(_line):
        _others = {word for at, side in enumerate(_line) if at != _at for word in side}
        for _word in _side:
            _AGAINST.setdefault(_word, set()).update(_others - set(_side))


def are_contrary(one: str, other: str) -> bool:
    """Whether two tokens, as a text is read, exclude each other."""
    return other in _AGAINST.get(one, ())
