"""Checks of pages, their boxes and layers."""
