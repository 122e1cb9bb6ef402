"""Where a lane delivers, in which forms, and which of its values goes into which column over there."""
