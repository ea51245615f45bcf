"""What is told of the ledger to people and programs outside: events, and feeds of them."""

from tallshelf.core.telling.atom import CONTENT_TYPE as ATOM_TYPE
from tallshelf.core.telling.atom import Feed, atom, page_of
from tallshelf.core.telling.events import (
    BATCH_TYPE,
    CONTENT_TYPE,
    TOLD,
    TYPES,
    Told,
    cloud_event,
    subject_of,
    words_of,
)
from tallshelf.core.telling.signing import SECRET_PREFIX, holds, sign, written_secret

__all__ = [
    "ATOM_TYPE",
    "BATCH_TYPE",
    "CONTENT_TYPE",
    "SECRET_PREFIX",
    "TOLD",
    "TYPES",
    "Feed",
    "Told",
    "atom",
    "cloud_event",
    "holds",
    "page_of",
    "sign",
    "subject_of",
    "words_of",
    "written_secret",
]
