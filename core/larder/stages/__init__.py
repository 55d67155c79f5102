"""The stages of a plan worked out one on the other."""
