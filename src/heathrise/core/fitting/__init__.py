"""Order of work and its sheets. Not computed yet: hours are in `ordering`."""
