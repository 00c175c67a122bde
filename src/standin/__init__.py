"""A simulated controller with its devices: a service of its own that plans are tried against.

It knows nothing of the planner and shares no code with it: what it makes of a setting is its own reading. Its HTTP
API is described in docs/standin.md.
"""
