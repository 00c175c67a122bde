"""How long each piece of work takes, and what makes it longer."""
