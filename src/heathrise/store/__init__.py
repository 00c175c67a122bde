"""Keeping jobs: tables, one door for edits, attachments. Rows become core values here."""
