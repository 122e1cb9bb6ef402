"""Document types: begun, adopted, given samples, published, compared, carried elsewhere."""
