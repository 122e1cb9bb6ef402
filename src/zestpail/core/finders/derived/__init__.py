"""Finders of what follows from other values."""
