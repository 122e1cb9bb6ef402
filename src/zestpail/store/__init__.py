"""What is kept: tables, blobs and the job queue. Decides nothing about the job."""

from zestpail.store.blobs import Blobs
from zestpail.store.database import Busy, Store, Unkeepable, Unreachable, open_store

__all__ = ["Blobs", "Busy", "Store", "Unkeepable", "Unreachable", "open_store"]
