"""What lies on the shelf, and what is made of it."""
