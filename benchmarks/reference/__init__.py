"""Reference scenes: small buildings, traced once by an independent ray tracer, kept as test data."""
