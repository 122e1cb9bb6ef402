"""What was learned from many papers: how likely a candidate is right, by all that is known of it."""
