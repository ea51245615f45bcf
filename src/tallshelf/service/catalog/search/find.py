"""Asking what can be found. Text of users becomes quoted FTS5 phrases, and nothing else."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import asdict, dataclass
from typing import Any

from django.db import connection
from rapidfuzz.distance import OSA, JaroWinkler

from tallshelf.core.errors import BadArgument
from tallshelf.core.words.asking import Question, act_asked, question_of, undoing
from tallshelf.core.words.classes import verb_class
from tallshelf.core.words.lexicon import words_for
from tallshelf.core.words.split import is_stop_word, sentence_words, split_identifier
from tallshelf.core.words.standing_for import is_misspelt, like_verbs
from tallshelf.core.words.terms import HouseTerms
from tallshelf.service.catalog.linting import terms_in_force
from tallshelf.service.catalog.search.company import with_company
from tallshelf.service.catalog.search.entries import Entry, entry, words_of
from tallshelf.service.catalog.search.ranking import fit, ranked
from tallshelf.service.catalog.search.saying import Said, says
from tallshelf.service.catalog.search.standing import add_standing
from tallshelf.service.catalog.search.weighing import weighed

MOST_HITS = 1000
"""How deep a search can be paged into."""

TOKENIZER = "porter unicode61 remove_diacritics 2"
"""How texts are cut into words, as in the migration that made the large table."""

_LONGEST_QUERY = 300
_MOST_WORDS = 12
_CANDIDATES = 60
_WEIGHED = 120
"""How many entries are weighed one by one."""
_SPELLINGS = 3
_SHORT = 7
_AS_LIKELY = 0.03
_HIT_START, _HIT_END = "\x02", "\x03"
_WEIGHTS = "10.0, 8.0, 4.0, 2.0"  # name, words, text, parameters
_ENTRIES = (
    "SELECT entry.id FROM catalog_searchentry entry "
    "JOIN catalog_server server ON server.id = entry.server_id JOIN people_team team ON team.id = server.team_id"
)
_PARTICLES = frozenset({"up", "out", "off", "down"})
_EXCERPT_WORDS = 28
_SHOWN_PARAMETERS = 3


@dataclass(frozen=True)
class _Query:
    """An FTS5 expression, and the words that were read as others (``brth`` as ``berth``)."""

    match: str
    respelled: dict[str, list[str]]


def find(text: str, *, kind: str = "", team: str = "", limit: int = 20, offset: int = 0) -> dict[str, Any]:
    """Return what fits a text best, best first: ``{"results", "respelled", "more", "fit"}``.

    Each result tells how it ``says`` every word that is asked for, or that it does not.

    Words that only ask ("a tool that tells me") do not count where there are others. Of the rest any may occur, or
    what may stand for it (verbs of the same work, synonyms); they are weighed by how telling they are and by where
    they stand; what does what is wanted done comes first, and before that what is called just so. A word that occurs
    nowhere and is no English word is read as the nearest that does. ``fit`` says how
    much of what is asked for the best result says: ``good``, ``weak`` or ``none``. What is suspended says so
    (``suspended``, the reason), and so does a deprecated item (``deprecated``, until when and what instead).
    Raises `BadArgument` for a text without words, or one that is too long.
    """
    if len(text) > _LONGEST_QUERY:
        raise BadArgument(f"a search has at most {_LONGEST_QUERY} characters")
    question = question_of(text)
    words = _words(question.text)
    if not words:
        raise BadArgument("there is no word to search for", remedy="Say what the tool should do.")
    with connection.cursor() as cursor:
        found = _find(cursor, text, question, words, kind, team, min(limit, 100), min(offset, MOST_HITS))
    add_standing(found["results"])
    return found


def _find(
    cursor: Any,
    text: str,
    question: Question,
    words: list[str],
    kind: str,
    team: str,
    limit: int,
    offset: int,
) -> dict[str, Any]:
    words = [one for word in words for one in _with_undoing(cursor, word)]
    query, terms = _Query(_expression(words), {}), terms_in_force()
    misspelt = any(
        is_misspelt(word) and not terms.holds(word) and not _is_known(cursor, word) for word in words
    )
    ids = [] if misspelt else _ranked(cursor, query.match, kind, team, _WEIGHED, 0)
    if not ids:
        query = _respelled(cursor, words, terms)
    respelt = [one for word in words for one in query.respelled.get(word, [word])]
    asked, phrases = weighed(cursor, question, respelt, terms)
    any_of = " OR ".join(sorted({f'"{phrase}"' for phrase in phrases})) or query.match
    wide = _ranked(cursor, any_of, kind, team, _WEIGHED, 0) if len(ids) < _WEIGHED else []
    named = words_of(text)
    in_order = [*dict.fromkeys([*ids, *wide, *_server_called(cursor, named, kind, team)])]
    read = {entry.id: entry for entry in _entries(cursor, in_order)}
    entries = {one: read[one] for one in in_order if one in read}
    asked = with_company(asked, entries.values())
    found = ranked(asked, list(entries.values()), act_asked(question.text))
    found.sort(key=lambda one: _called(entries[one.id], named))
    order = [one.id for one in found]
    if len(ids) == _WEIGHED:  # so many hold every word that the rest of them follows by its rank alone
        order = list(
            dict.fromkeys([*order, *_ranked(cursor, query.match, kind, team, offset + limit + 1, 0)])
        )
    shown = order[offset : offset + limit]
    entries |= {entry.id: entry for entry in _entries(cursor, [one for one in shown if one not in entries])}
    rows = _rows(cursor, f"{query.match} OR {any_of}", shown)
    return {
        "results": [
            {**row, "says": [_told(how, question) for how in says(asked, entries[number])]}
            for number, row in rows
        ],
        "respelled": query.respelled,
        "more": len(order) > offset + limit,
        "fit": fit(found) if any(map(_tells, words)) else "none",
    }


def _called(entry: Entry, named: tuple[str, ...]) -> int:
    """Return in which order what is called just as the question is written goes before the rest: servers first."""
    return 2 if named not in entry.called else int(entry.kind != "server")


def _server_called(cursor: Any, named: tuple[str, ...], kind: str, team: str) -> list[int]:
    """Return the server of that very name, which may stand behind many that hold the same words."""
    if kind not in ("", "server"):
        return []
    cursor.execute(
        f"{_ENTRIES} WHERE entry.kind = 'server' AND server.slug = %s AND %s IN ('', team.slug)",
        ["-".join(named), team],
    )
    return [row[0] for row in cursor.fetchall()]


def _with_undoing(cursor: Any, word: str) -> tuple[str, ...]:
    """Read *unassign* as *remove* and *assign* where nothing in the catalog is called so."""
    read = undoing(word)
    return read if read and not _is_known(cursor, word) else (word,)


def _told(how: Said, question: Question) -> dict[str, str]:
    """Return how a word is said, with the word as it was asked for."""
    return asdict(how) | {"asked": question.written.get(how.asked, how.asked)}


def _tells(word: str) -> bool:
    """Whether a word may tell what is looked for: a number of one or two digits stands anywhere."""
    return len(word) > 2 or not word.isdigit()


def _entries(cursor: Any, ids: list[int]) -> Iterator[Entry]:
    wanted = ", ".join(["%s"] * len(ids))
    if not ids:
        return
    cursor.execute(
        f"""SELECT entry.id, entry.kind, entry.name, entry.words, entry.text, entry.parameters,
            server.slug || ' ' || server.title
        FROM catalog_searchentry entry JOIN catalog_server server ON server.id = entry.server_id
        WHERE entry.id IN ({wanted})""",  # noqa: S608 - placeholders only
        ids,
    )
    for number, kind, name, words, text, parameters, server in cursor.fetchall():
        yield entry(
            number,
            {"name": name, "words": words, "text": text, "parameters": parameters, "server": server},
            kind=kind,
        )


def expression(text: str) -> str:
    """Return the FTS5 expression that a text is first looked for by."""
    return _expression(_words(question_of(text).text))


def _expression(words: list[str]) -> str:
    return _all_of([_alternatives(word, last=word == words[-1]) for word in words])


def _words(text: str) -> list[str]:
    """Return the words to search for, without those that carry nothing unless there are no others."""
    found = [word for one in text.split() for word in _pieces(one)]
    telling = [word for word in found if not is_stop_word(word) and word not in _PARTICLES]
    return list(dict.fromkeys(telling or found))[:_MOST_WORDS]


def _pieces(text: str) -> Iterable[str]:
    return split_identifier(text) if "_" in text else sentence_words(text)


def _alternatives(word: str, *, last: bool) -> list[str]:
    """Return the phrases that a word may match: itself (its beginning, when it may be unfinished), its like."""
    own = f'"{word}"*' if last else f'"{word}"'
    return [own, *(f'"{other}"' for other in sorted(like_verbs(word) - {word}))]


def _all_of(groups: list[list[str]]) -> str:
    return " AND ".join(f"({' OR '.join(group)})" for group in groups)


def _ranked(cursor: Any, match: str, kind: str, team: str, limit: int, offset: int) -> list[int]:
    asked = {"entry.kind = %s": kind, "team.slug = %s": team}
    chosen = {condition: value for condition, value in asked.items() if value}
    narrowed = f"AND rowid IN ({_ENTRIES} WHERE {' AND '.join(chosen)})" if chosen else ""
    cursor.execute(
        f"""SELECT rowid FROM catalog_search WHERE catalog_search MATCH %s {narrowed}
        ORDER BY bm25(catalog_search, {_WEIGHTS}), rowid LIMIT %s OFFSET %s""",  # noqa: S608 - constants only
        [match, *chosen.values(), limit, offset],
    )
    return [row[0] for row in cursor.fetchall()]


def _rows(cursor: Any, match: str, ids: list[int]) -> list[tuple[int, dict[str, Any]]]:
    """Return what is shown of entries, by their number and in its order."""
    if not ids:
        return []
    # A full-text table of this page's rows alone makes the marks: on the large one, each use of
    # highlight() would read all that begins with the last word anew.
    wanted = ", ".join(["%s"] * len(ids))
    columns = "name, words, text, parameters"
    cursor.execute(
        f"CREATE VIRTUAL TABLE IF NOT EXISTS temp.marking USING fts5({columns}, tokenize='{TOKENIZER}')"
    )
    cursor.execute("DELETE FROM temp.marking")
    cursor.execute(
        f"""INSERT INTO temp.marking(rowid, {columns})
        SELECT id, {columns} FROM catalog_searchentry WHERE id IN ({wanted})""",  # noqa: S608 - constants only
        ids,
    )
    cursor.execute(
        f"""SELECT marking.rowid, highlight(marking, 0, %s, %s),
            snippet(marking, 2, %s, %s, '…', {_EXCERPT_WORDS}), highlight(marking, 3, %s, %s),
            entry.kind, entry.identity, server.slug, server.title, team.slug, team.title, current.version
        FROM temp.marking JOIN catalog_searchentry entry ON entry.id = marking.rowid
        JOIN catalog_server server ON server.id = entry.server_id
        JOIN people_team team ON team.id = server.team_id
        LEFT JOIN catalog_release current ON current.id = server.current_id
        WHERE marking MATCH %s""",  # noqa: S608 - constants and placeholders only
        [*[_HIT_START, _HIT_END] * 3, match],
    )
    rows = {row[0]: _row(row) for row in cursor.fetchall()}
    return [(one, rows[one]) for one in ids if one in rows]


def _row(row: Any) -> dict[str, Any]:
    _, name, text, parameters, kind, item, slug, title, team, team_title, version = row
    marked = [line for line in parameters.split("\n") if _HIT_START in line]
    return {
        "kind": kind,
        "server": slug,
        "server_title": title,
        "team": team,
        "team_title": team_title,
        "version": version,
        "item": item,
        "name": _marked(name),
        "text": _marked(text),
        "parameters": [_marked(line) for line in marked[:_SHOWN_PARAMETERS]],
    }


def _marked(text: str) -> list[dict[str, Any]]:
    """Split a text at its marks into pieces, each with whether it is a hit."""
    pieces = []
    for number, part in enumerate(text.split(_HIT_START)):
        hit, _, rest = part.rpartition(_HIT_END) if number else ("", "", part)
        pieces += [{"text": hit, "hit": True}] if hit else []
        pieces += [{"text": rest, "hit": False}] if rest else []
    return pieces


def _respelled(cursor: Any, words: list[str], terms: HouseTerms) -> _Query:
    """Read words that occur nowhere as the nearest that do, and ask for less where not all occur together.

    First go the verbs, since a text may say the same with another; then any of the words will do.
    """
    respelled: dict[str, list[str]] = {}
    groups, things = [], []
    for word in words:
        group = _alternatives(word, last=word == words[-1])
        stands = _is_known(cursor, word) or not is_misspelt(word)
        if not stands or not _occurs(cursor, f"({' OR '.join(group)})"):
            known = terms.holds(word)
            near = [
                one
                for one in _near(cursor, word)
                if (is_misspelt(word) and not known) or one in words_for(word)
            ]
            if not near:
                continue
            respelled[word] = near
            group = [f'"{one}"' for one in near]
        groups.append(group)
        things += [] if verb_class(word) else [group]
    for asked in (groups, things):
        if asked and _occurs(cursor, _all_of(asked)):
            return _Query(_all_of(asked), respelled)
    any_of = " OR ".join(one for group in things or groups for one in group)
    return _Query(any_of or f'"{words[0]}"', respelled)


def _is_known(cursor: Any, word: str) -> bool:
    """Whether a word stands in the catalog as it is written, or begins one that does."""
    cursor.execute(
        "SELECT 1 FROM catalog_searchword WHERE word >= %s AND word < %s LIMIT 1",
        [word, word + chr(0x10FFFF)],
    )
    return cursor.fetchone() is not None


def _occurs(cursor: Any, match: str) -> bool:
    cursor.execute("SELECT 1 FROM catalog_search WHERE catalog_search MATCH %s LIMIT 1", [match])
    return cursor.fetchone() is not None


def _near(cursor: Any, word: str) -> list[str]:
    """Return the nearest known words: those that share trigrams, a few edits away
    (optimal string alignment), likest first (Jaro-Winkler)."""
    padded = f"^^{word}$"
    trigrams = sorted({padded[at : at + 3] for at in range(len(padded) - 2)})
    cursor.execute(
        f"""SELECT word FROM catalog_searchword WHERE id IN (
            SELECT rowid FROM catalog_search_word WHERE catalog_search_word MATCH %s
            ORDER BY rank LIMIT {_CANDIDATES})""",  # noqa: S608
        [" OR ".join(f'"{trigram}"' for trigram in trigrams)],
    )
    allowed = 1 if len(word) <= _SHORT else 2
    near = {
        row[0]: JaroWinkler.similarity(word, row[0])
        for row in cursor.fetchall()
        if 0 < OSA.distance(word, row[0]) <= allowed and _occurs(cursor, f'"{row[0]}"')
    }
    best = max(near.values(), default=0.0)
    chosen = sorted((-score, one) for one, score in near.items() if score >= best - _AS_LIKELY)
    return [one for _, one in chosen][:_SPELLINGS]
