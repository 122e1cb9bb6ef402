"""What somebody sends on purpose: it costs at most its budget, and nobody gets in by it."""
