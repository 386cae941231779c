"""The kinds of things on the Shelf: a file a kind, found by being here."""
