"""The commands, a module each: a command loads what it needs and nothing else."""
