"""Zest Pail turns piles of scanned paper and PDFs into checked data and well-filed documents."""

__version__ = "0.1.0"
