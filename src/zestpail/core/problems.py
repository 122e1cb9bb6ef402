"""What can go wrong with one item, said in a sentence a person can act on."""


class Unreadable(Exception):
    """A file or page that cannot be read; ``str()`` of it is a plain sentence for a person."""
