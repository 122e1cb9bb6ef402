"""What a postcode looks like, in the forms of several countries."""

from __future__ import annotations

import re

POSTCODE = re.compile(r"(?<!\d)\d{4,5}(?!\d)|\b[A-Z]{1,2}\d[A-Z\d]? ?\d[A-Z]{2}\b")
"""Four or five figures, or the British form."""
