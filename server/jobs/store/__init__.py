"""From what the server keeps to the core's values, and back."""
