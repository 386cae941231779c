"""Mends of colour: what is drawn in which inks."""
