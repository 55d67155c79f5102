"""What is wrong or surprising in a plan, a module a subject."""
