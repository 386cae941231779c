"""Checks of the file itself."""
