"""The advisor: which designs a catalogue allows for a brief, which serve, and why the others lose."""
