"""It is slow: what was seen, what the plan's hops should give, and the culprits that would explain it."""
