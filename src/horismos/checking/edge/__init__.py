"""Checks of the printed edge against the cut."""
