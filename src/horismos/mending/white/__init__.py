"""Mends of white and varnish."""
