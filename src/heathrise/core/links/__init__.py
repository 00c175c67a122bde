"""How data reaches what a plain cable does not."""
