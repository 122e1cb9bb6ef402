"""The interface: routes per place, templates, small scripts. No SQL, no engine."""
