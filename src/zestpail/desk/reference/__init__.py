"""Reference lists: what the business already knows, kept as it comes and asked by the engine."""
