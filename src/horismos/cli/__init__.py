"""The same work without the web: a file for each command."""

from horismos.cli.main import main

__all__ = ["main"]
