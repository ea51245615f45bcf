"""Finding servers and items by what they do: SQLite FTS5, ranked, forgiving of misspellings."""

from tallshelf.service.catalog.search.find import MOST_HITS, find
from tallshelf.service.catalog.search.index import index_server, is_behind, rebuild

__all__ = ["MOST_HITS", "find", "index_server", "is_behind", "rebuild"]
