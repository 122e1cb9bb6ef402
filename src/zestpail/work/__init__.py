"""The worker: takes steps from the queue in PostgreSQL. The rules are in the desk."""
