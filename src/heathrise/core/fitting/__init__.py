"""The work in its order, its days, and what the crew reads on the spot."""
