"""All ways by which data may reach one thing, worked out for it and compared."""
