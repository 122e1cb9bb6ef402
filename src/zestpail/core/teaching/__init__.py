"""From pointing to rules: what is proposed for something pointed at, and what would repair a rule."""
