"""Heathrise: one model of a building and its network job, from which everything is computed."""

__version__ = "0.1.0"
