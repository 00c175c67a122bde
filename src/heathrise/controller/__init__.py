"""Drivers of controllers: each a module that turns the planner's terms into a controller's and back."""
