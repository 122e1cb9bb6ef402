"""A store of objects that speaks the S3 protocol as a destination, through fsspec."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from pathlib import PurePosixPath
from typing import Any, ClassVar, Literal, Self, TypeVar

from pydantic import Field

from zestpail.core.writing.renditions import media_type
from zestpail.delivery.destination import (
    SECRET,
    Asked,
    Files,
    Later,
    Outgoing,
    Outlets,
    Plan,
    Receipt,
    Refused,
    Taken,
    Web,
)
from zestpail.delivery.filing import FilingDestination, FilingPlan, of_kind

T = TypeVar("T")
WAIT = 30
"""Seconds in which the store must answer."""


class BucketPlan(FilingPlan):
    """Objects with their names."""

    destination: Literal["bucket"] = "bucket"
    address: str
    bucket: str
    user: str
    secret: str

    @property
    def place(self) -> str:
        return f"{self.address}/{self.bucket}"

    def there(self, outlets: Outlets) -> Files:
        return BucketFiles(outlets.web, self.address, self.bucket, self.user, self.secret)


class BucketDestination(FilingDestination):
    """A bucket, or a folder in one."""

    title: ClassVar[str] = "to an object store (S3)"
    kind: ClassVar[str] = "Object store (S3)"
    about: ClassVar[str] = "objects in a bucket of an S3-compatible store"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("address", "Address of the store", "https://objects.example.org"),
        Asked("bucket", "Bucket, and after / a folder in it", "papers/harbour"),
        Asked("user", "Id of the access key"),
        Asked(SECRET, "Access key"),
    )
    destination: Literal["bucket"] = "bucket"
    address: str = Field(min_length=1, max_length=500)
    """Of the store, such as ``https://objects.example.org``."""
    bucket: str = Field(min_length=1, max_length=300, pattern=r"^[a-z0-9][a-z0-9.-]+(/[^/]+)*$")
    """The bucket, and after a / the folder in it."""
    user: str = Field(default="", max_length=200)
    """The access key's id."""
    secret: str = ""
    """Name of the secret that is the access key."""

    @property
    def shown(self) -> str:
        return f"to the object store {self.bucket}"

    def met(self, outlets: Outlets) -> Self:
        BucketFiles(outlets.web, self.address, self.bucket, self.user, self.secret).look()
        return self

    def plan(self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets) -> BucketPlan:
        place = f"{self.address}/{self.bucket}"
        files = BucketFiles(outlets.web, self.address, self.bucket, self.user, self.secret)
        first, *beside = self.filed(document, place, is_taken, files)
        return BucketPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, path=first.path,
            blob=first.blob, beside=tuple(beside), address=self.address, bucket=self.bucket, user=self.user,
            secret=self.secret,
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        there = of_kind(plan, BucketPlan)
        return self.filed_now(there, there.there(outlets), outlets).model_copy(update={"at": there.place})


class BucketFiles:
    """The objects of a bucket under names with /."""

    def __init__(self, web: Web, address: str, bucket: str, user: str, secret: str) -> None:
        self._web, self._address, self._bucket, self._user, self._secret = web, address, bucket, user, secret

    def look(self) -> None:
        """Raises Refused, Later where the bucket cannot be looked into."""
        self._done(PurePosixPath(), lambda there, _: there.ls(self._bucket.split("/")[0]))

    def holds(self, path: PurePosixPath) -> bool:
        return self._done(path, lambda there, key: bool(there.exists(key)))

    def put(self, path: PurePosixPath, data: bytes, properties: Mapping[str, str] = {}) -> None:  # noqa: ARG002
        def put(there: Any, key: str) -> None:
            try:
                if there.exists(key):  # not every store knows the condition
                    raise FileExistsError
                there.pipe_file(key, data, mode="create", ContentType=media_type(path.name))
            except FileExistsError:
                if there.cat_file(key) != data:
                    raise Taken(f"{path} is there already with other content.") from None

        self._done(path, put)

    def read(self, path: PurePosixPath) -> bytes:
        return self._done(path, lambda there, key: bytes(there.cat_file(key)) if there.exists(key) else b"")

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        def remove(there: Any, key: str) -> bool:
            if not there.exists(key) or hashlib.sha256(there.cat_file(key)).hexdigest() != sha256:
                return False
            there.rm_file(key)
            return True

        return self._done(path, remove)

    def _done(self, path: PurePosixPath, act: Callable[[Any, str], T]) -> T:
        self._web.permit(self._address)
        import s3fs  # noqa: PLC0415 - a second to load, and few lanes need it

        there = s3fs.S3FileSystem(
            key=self._user, secret=self._web.secret(self._secret), endpoint_url=self._address, use_listings_cache=False,
            skip_instance_cache=True,
            config_kwargs={"connect_timeout": WAIT, "read_timeout": WAIT, "retries": {"max_attempts": 1}},
        )  # fmt: skip
        try:
            return act(there, f"{self._bucket}/{path}")
        except PermissionError as problem:
            raise Refused(f"{self._address} does not let us in: id or key are not right.") from problem
        except FileNotFoundError as problem:
            raise Refused(f"{self._address} has no bucket {self._bucket.split('/')[0]}.") from problem
        except OSError as problem:
            raise Later(f"{self._address} does not take it: {problem}.") from problem
        except Exception as problem:
            if "botocore" in type(problem).__module__ or "aiohttp" in type(problem).__module__:
                raise Later(f"{self._address} does not answer.") from problem
            raise
