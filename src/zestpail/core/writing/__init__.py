"""What is handed on: searchable PDFs and sheets of values."""
