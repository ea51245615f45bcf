"""Words of names and sentences: splitting, stemming, classes of verbs, and units."""

from tallshelf.core.words.classes import VERB_CLASSES, opposed, verb_class, writes
from tallshelf.core.words.split import content_words, is_stop_word, sentence_words, split_identifier, stem
from tallshelf.core.words.units import Unit, units_in

__all__ = [
    "VERB_CLASSES",
    "Unit",
    "content_words",
    "is_stop_word",
    "opposed",
    "sentence_words",
    "split_identifier",
    "stem",
    "units_in",
    "verb_class",
    "writes",
]
