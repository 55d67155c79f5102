"""What tools and people bring: files and lines, guarded, then values."""
