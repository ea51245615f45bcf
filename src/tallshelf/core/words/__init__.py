"""Words of names and sentences: splitting, stemming, classes of verbs, and units."""

from tallshelf.core.words.classes import VERB_CLASSES, opposed, verb_class, writes
from tallshelf.core.words.difference import Meaning, TextDifference, moved_unit, text_difference, tokens_apart
from tallshelf.core.words.hidden import hidden_spots, is_hidden, looks_alike, revealed, tagged
from tallshelf.core.words.lists import is_verb, known_abbreviation, same_verb
from tallshelf.core.words.meaning import meaning, meanings, opposites
from tallshelf.core.words.reading import tokens_of, units_of
from tallshelf.core.words.split import (
    case_style,
    cased,
    content_words,
    is_stop_word,
    sentence_words,
    split_identifier,
    stem,
    telling_words,
    word_set,
)
from tallshelf.core.words.units import Unit, units_in

__all__ = [
    "VERB_CLASSES",
    "Meaning",
    "TextDifference",
    "Unit",
    "case_style",
    "cased",
    "content_words",
    "hidden_spots",
    "is_hidden",
    "is_stop_word",
    "is_verb",
    "known_abbreviation",
    "looks_alike",
    "meaning",
    "meanings",
    "moved_unit",
    "opposed",
    "opposites",
    "revealed",
    "same_verb",
    "sentence_words",
    "split_identifier",
    "stem",
    "tagged",
    "telling_words",
    "text_difference",
    "tokens_apart",
    "tokens_of",
    "units_in",
    "units_of",
    "verb_class",
    "word_set",
    "writes",
]
