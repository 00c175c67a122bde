"""Records held against limits. Not computed yet: limit lines are in `cabling.testlimits`."""
