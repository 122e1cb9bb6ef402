"""How right the reading is: on samples that are kept for testing, and in daily work."""
