"""What a document is: told from few samples, from cues, from a description; and where in a pile it begins."""
