"""Python imports this by itself in every process that the tests start."""

import tests.saved_readings  # noqa: F401 - importing it is enough
