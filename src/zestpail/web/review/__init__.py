"""The place *Review*: the desk where doubts are settled."""
