"""Invoices as data: what EN 16931 has them say, and how its two syntaxes (UBL, UN/CEFACT CII) write it."""
