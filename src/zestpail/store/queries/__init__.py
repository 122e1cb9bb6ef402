"""Queries that decide nothing, by subject."""
