"""What every page has: sign-in state, security, templates, live news, pictures of pages."""
