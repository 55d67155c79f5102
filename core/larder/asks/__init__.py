"""Questions about a plan that was judged: how a figure comes about, what else could be built."""
