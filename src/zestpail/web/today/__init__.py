"""The place *Today*, and the ways in which files arrive from a browser."""
