"""Finding documents again."""
