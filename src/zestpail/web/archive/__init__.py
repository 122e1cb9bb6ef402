"""The place *Archive*: finding a document again."""
