"""The store: files by the hash of what they hold, in a folder or a bucket elsewhere. Knows no database and no web."""
