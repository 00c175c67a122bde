"""Readers and writers, one module a format; no rules of the job here."""
