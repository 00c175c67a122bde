"""Plans as other people draw them: known in truth, drawn by several hands' habits, written without our exporters.

`tuned` holds the files the readers were made with; `unseen` those that were only ever scored.
"""
