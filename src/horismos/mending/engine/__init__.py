"""Says, does and proves mends; it knows none of them by name."""
