"""Lanes as letters of instruction, trial runs, separator sheets."""
