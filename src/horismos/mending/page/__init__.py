"""Mends of the page: its size, its boxes, which way up it lies."""
