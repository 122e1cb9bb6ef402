"""Where a lane sends records to, and which of its values goes into which column over there."""
