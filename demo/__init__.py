"""Invented jobs that ship with the application, and what loads them."""
