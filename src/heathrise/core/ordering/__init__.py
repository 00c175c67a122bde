"""What to buy and how long it takes."""
