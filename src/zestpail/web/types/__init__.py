"""The place *Types*: the list, starters, and the bench."""
