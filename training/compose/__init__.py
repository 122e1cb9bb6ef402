"""Composes invoices of which nobody drew the layout: every part, its place and its words are drawn from a seed."""
