"""Runs: routes in three dimensions, lengths, limits, ratings, conduit."""
