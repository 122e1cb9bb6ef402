"""The JSON API, version 1: for programs what the web pages are for people; and where other systems call."""

from zestpail.api.app import create_api, mounted
from zestpail.api.calls import create_calls

__all__ = ["create_api", "create_calls", "mounted"]
