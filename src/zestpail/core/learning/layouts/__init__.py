"""Layout memory: a labelled document by its standing words, and its fields by where they stand from them."""
