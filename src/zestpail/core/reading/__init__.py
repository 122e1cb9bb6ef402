"""From the bytes of a file to what stands on its pages."""
