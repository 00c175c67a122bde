"""Racks: what stands at which unit, what they weigh, draw, heat and sound like, and how long they run alone."""
