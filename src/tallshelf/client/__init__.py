"""The HTTP client library: ``Shelf(url, token)``."""

from tallshelf.client.errors import ProblemError, error_from
from tallshelf.client.shelf import Shelf

__all__ = ["ProblemError", "Shelf", "error_from"]
