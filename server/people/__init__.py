"""Who works here: logging in and out, and what somebody may do."""
