"""``python -m zestpail`` is the command line."""

from zestpail.cli import app

app()
