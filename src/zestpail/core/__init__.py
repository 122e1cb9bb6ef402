"""The engine: plain Python on plain values; no web, database, clock, environment or network."""
