"""What is done to the image of a page before it is read."""
