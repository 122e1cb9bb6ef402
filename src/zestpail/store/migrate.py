"""Bringing the database to the present state: our tables by Alembic, the job tables by Procrastinate itself."""

from __future__ import annotations

from pathlib import Path

import procrastinate
import psycopg
from alembic import command
from alembic.config import Config


def migrate(url: str) -> None:
    """Bring the database at ``url`` up to date. Doing it twice does nothing."""
    command.upgrade(alembic_config(url), "head")
    with psycopg.connect(url) as connection:
        there = connection.execute("SELECT to_regclass('procrastinate_jobs')").fetchone()
    if not there or there[0] is None:
        with procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=url)).open() as app:
            app.schema_manager.apply_schema()


def alembic_config(url: str) -> Config:
    """Alembic's settings for the database at ``url``."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["url"] = url
    return config
