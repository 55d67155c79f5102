"""A plan judged: every stage, the four scales, the findings."""
