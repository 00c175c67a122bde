"""Work that takes longer than a click: done in processes of its own, with progress and stop."""
