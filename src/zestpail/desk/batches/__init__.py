"""Today, one batch, and its page ribbon."""
