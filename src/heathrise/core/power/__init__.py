"""Power over the cable: feeds, classes, budgets."""
