"""What a worker does with what arrived: open, read, split, extract."""
