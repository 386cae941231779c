"""Checks of lines: how they are painted, how they run, where they lie."""
