"""The API. Thin: it stores, queues and answers; the core computes."""
