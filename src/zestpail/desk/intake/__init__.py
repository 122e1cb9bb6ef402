"""How files come in: kept before their arrival is acknowledged."""
