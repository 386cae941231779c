"""The demo: made-up artwork, the shop that is filled with it, and what starts it."""

NAME, PASSWORD = "demo", "tern-and-tideway"
