"""The desk where doubts are settled: values, rows of tables, and taking back."""
