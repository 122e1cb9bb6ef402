"""Reference lists: what the business already knows."""
