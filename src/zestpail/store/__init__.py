"""What is kept: tables, blobs and the job queue. Decides nothing about the job."""

from zestpail.store.blobs import Blobs
from zestpail.store.database import Store, Unkeepable, open_store

__all__ = ["Blobs", "Store", "Unkeepable", "open_store"]
