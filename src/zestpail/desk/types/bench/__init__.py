"""The bench, where a type is set up by pointing at samples; every edit is judged on all of them."""
