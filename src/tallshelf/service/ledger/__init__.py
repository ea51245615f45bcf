"""App `ledger`."""
