"""What can go wrong with one item, said in a sentence a person can act on."""


class Unreadable(Exception):
    """A file or page that cannot be read; ``str()`` of it is a plain sentence for a person."""


def why_unread(problem: Exception) -> str:
    """A sentence for what kept a file from being read."""
    if isinstance(problem, FileNotFoundError):
        return "There is no such file."
    if isinstance(problem, OSError):
        return f"The file cannot be opened: {(problem.strerror or 'unknown reason').lower()}."
    if isinstance(problem, Unreadable):
        return str(problem)
    return "Reading this file broke off; it may be damaged in a way that is not understood."
