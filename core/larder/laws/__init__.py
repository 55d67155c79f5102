"""The rules of the trade as arithmetic: numbers in, numbers out."""
