"""Verifying the ledger: its chain, its replay, and every deciding table against what the replay came to."""

from tallshelf.service.verifying.report import Report, register_rows, verify

__all__ = ["Report", "register_rows", "verify"]
