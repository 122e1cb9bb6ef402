"""What the engine is taught with: words of other people's catalogues, composed papers, and the judge made from them."""
