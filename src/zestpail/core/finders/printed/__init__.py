"""Finders of what is printed on the page."""
