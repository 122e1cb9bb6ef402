"""What the business already knows: lists of suppliers, orders and the like, and which entry a paper speaks of."""
