"""Use cases: one function per thing a person or a worker does. Transactions begin and end here."""
