"""What is told to people: the letter to the customer, the preflight report, and the pictures in them."""
