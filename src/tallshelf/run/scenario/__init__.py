"""Pellam Sound Ferries: a made-up company, its tool servers, people and history."""
