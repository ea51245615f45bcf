"""Words of names and sentences: splitting, stemming, classes of verbs, and units."""

from tallshelf.core.words.classes import VERB_CLASSES, opposed, verb_class, writes
from tallshelf.core.words.difference import Meaning, TextDifference, moved_unit, text_difference
from tallshelf.core.words.split import content_words, is_stop_word, sentence_words, split_identifier, stem
from tallshelf.core.words.units import Unit, units_in

__all__ = [
    "VERB_CLASSES",
    "Meaning",
    "TextDifference",
    "Unit",
    "content_words",
    "is_stop_word",
    "moved_unit",
    "opposed",
    "sentence_words",
    "split_identifier",
    "stem",
    "text_difference",
    "units_in",
    "verb_class",
    "writes",
]
