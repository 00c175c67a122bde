"""Switches, ports and their budgets."""
