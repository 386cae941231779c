"""Mends of lines: what they are called, how they are painted, how they run."""
