"""The advisor: which designs the catalogue allows for a brief, which of them serve, and why the others lose."""
