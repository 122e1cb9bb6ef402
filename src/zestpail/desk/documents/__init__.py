"""What all use cases share: where a document stands, its lane and type, its pages, its trail."""
