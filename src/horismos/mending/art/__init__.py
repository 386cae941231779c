"""Mends of the art."""
