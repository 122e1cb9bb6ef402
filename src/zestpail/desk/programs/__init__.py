"""What programs ask for, and are told of."""
