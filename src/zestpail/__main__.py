"""``python -m zestpail`` is the command line."""

from zestpail.cli import app

if __name__ == "__main__":
    app()
