"""Who is who on a paper: address blocks as units, and what makes one the seller's and another the buyer's."""
