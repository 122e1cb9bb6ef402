"""Who is there: sign-in, and tokens for programs."""
