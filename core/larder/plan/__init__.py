"""The document: what a plan says, its bounds, and how older ones are brought to it."""
