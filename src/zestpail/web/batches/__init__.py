"""The place of one batch: its page, and the page ribbon."""
