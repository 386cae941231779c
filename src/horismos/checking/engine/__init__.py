"""Collects the checks, runs them, keeps what they say; it knows none of them by name."""
