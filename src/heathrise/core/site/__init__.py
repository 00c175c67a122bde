"""The building as geometry: storeys, outlines, obstacles to the air, temperatures."""
