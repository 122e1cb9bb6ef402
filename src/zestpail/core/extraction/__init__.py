"""From a read document to its values: find, choose, verify, and how sure."""
