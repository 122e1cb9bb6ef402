"""Who can sign in, and which programs have a token."""
