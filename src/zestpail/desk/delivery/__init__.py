"""Handing settled documents over to destinations."""
