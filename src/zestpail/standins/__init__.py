"""Simulated devices and outside systems, for the demo and the tests.

Each is a small application of its own with its own storage, spoken to over its protocol only, as the real thing is.
"""
