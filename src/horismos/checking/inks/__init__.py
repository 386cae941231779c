"""Checks of inks: those that print, and what all of them are called."""
