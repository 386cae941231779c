"""Mends of layers."""
