"""Verifying the ledger: its chain, its replay, and every deciding table against what the replay came to."""

from tallshelf.service.verifying.report import Report, verify

__all__ = ["Report", "verify"]
