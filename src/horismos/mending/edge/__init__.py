"""Mends of the edge: what is printed outside the cut, and where the cut lies to the art."""
