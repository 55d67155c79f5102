"""The page for the owner on paper: its drawings, its layout, and the file it is printed to."""
