"""Finders of what is said with ink and not with letters: ticks and signatures."""
