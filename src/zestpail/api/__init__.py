"""The JSON API, version 1: for programs what the web pages are for people, over the same desk."""

from zestpail.api.app import create_api

__all__ = ["create_api"]
