"""What screens show, as values: the API's shapes are made of them, and nothing is added to them elsewhere."""
