"""How right the reading is, measured against truth."""
