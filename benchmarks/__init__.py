"""Timings beside something run on the same machine, so that the ratio means something anywhere."""
