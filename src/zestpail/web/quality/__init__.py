"""The place Quality."""
