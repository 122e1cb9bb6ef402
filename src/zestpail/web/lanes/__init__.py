"""The place *Lanes*: the letter, what is delivered of tables, separator sheets."""
