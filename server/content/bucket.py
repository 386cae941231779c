"""A store in a bucket of an object store that speaks S3, through django-storages; what was fetched is kept here."""

import hashlib
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from botocore.exceptions import BotoCoreError, ClientError
from django.conf import settings
from django.core.files.base import ContentFile, File

from content.cache import Cache
from content.store import Stored, checked_hash
from content.whole import CHUNK, beside, write
from horismos.errors import CannotRead, CannotWrite

__all__ = ["BucketStore"]

TRIES = 3
"""[ours] how often a file is fetched that does not come as it was."""
_GONE = CannotRead("A file of this job is missing in the store.", "Restore the shop's backup.")
_CHANGED = CannotRead("A file of this job has changed in the store.", "Restore the shop's backup.")


class BucketStore:
    """Files by the hash of what they hold, in a bucket; ``Store`` says what each does. Keys come from boto3's places.

    What was fetched, or written from here, lies in a folder of so many bytes.
    """

    near = False

    def __init__(
        self, bucket: str, below: str, cache: Path, cache_bytes: int, endpoint: str = "", region: str = ""
    ) -> None:
        if not settings.configured:
            settings.configure()  # on a machine that has no server
        from storages.backends.s3 import S3Storage

        self._cache = Cache(cache, cache_bytes)
        self._known: set[str] = set()
        self._bucket: Any = S3Storage(
            bucket_name=bucket, location=below, endpoint_url=endpoint or None, region_name=region or None,
            querystring_auth=False, file_overwrite=True, addressing_style="path" if endpoint else None,
        )

    def path_of(self, sha256: str) -> Path:
        """Where a file lies once it is fetched."""
        return self._cache.path_of(checked_hash(sha256))

    def local(self, sha256: str) -> Path:
        """The file, fetched where it is not here."""
        path = self._cache.found(checked_hash(sha256))
        return path if path is not None else self._fetched(sha256)

    def _fetched(self, sha256: str) -> Path:
        for _ in range(TRIES):
            with beside(self._cache.root) as (handle, part):
                whole = hashlib.sha256()
                try:
                    for some in self.parts(sha256):
                        whole.update(some)
                        write(handle, some)
                except FileNotFoundError:
                    raise _GONE from None
                except OSError:
                    continue
                if whole.hexdigest() == sha256:
                    return self._cache.take(handle, part, sha256)
        raise _CHANGED

    def has(self, sha256: str) -> bool:
        """Whether it holds a file; what it once held is not asked for again."""
        if sha256 not in self._known and self._bucket.exists(_key(sha256)):
            self._known.add(sha256)
        return sha256 in self._known

    def size(self, sha256: str) -> int:
        """How many bytes a file has."""
        path = self._cache.found(checked_hash(sha256))
        if path is not None:
            return path.stat().st_size
        try:
            return int(self._bucket.size(_key(sha256)))
        except (OSError, ClientError, BotoCoreError):
            return 0

    def put(self, data: bytes) -> str:
        """Keep bytes."""
        sha256 = hashlib.sha256(data).hexdigest()
        if not self.has(sha256):
            self._sent(sha256, ContentFile(data))
            with beside(self._cache.root) as (handle, part):
                write(handle, data)
                self._cache.take(handle, part, sha256)
        return sha256

    def take(self, handle: int, path: Path, sha256: str) -> None:
        """Send a file."""
        if not self.has(sha256):
            os.fsync(handle)
            with path.open("rb") as file:
                self._sent(sha256, File(file))
        self._cache.take(handle, path, sha256)

    def _sent(self, sha256: str, file: Any) -> None:
        try:
            self._bucket.save(_key(sha256), file)
        except (OSError, ClientError, BotoCoreError) as error:
            raise CannotWrite(
                f"The store cannot be written to ({error}).", "Tell who looks after the server."
            ) from None
        self._known.add(sha256)

    def parts(self, sha256: str) -> Iterator[bytes]:
        """A file in parts, as the bucket holds it."""
        try:
            body = self._bucket.bucket.Object(self._named(sha256)).get()["Body"]
            while some := body.read(CHUNK):
                yield some
        except ClientError as error:
            gone = error.response.get("Error", {}).get("Code") in ("404", "NoSuchKey")
            raise (FileNotFoundError if gone else OSError)(str(error)) from None
        except BotoCoreError as error:
            raise OSError(str(error)) from None

    def remove(self, sha256: str) -> None:
        """Remove a file, here too."""
        self._bucket.delete(_key(checked_hash(sha256)))
        self._known.discard(sha256)
        self._cache.path_of(sha256).unlink(missing_ok=True)

    def listed(self) -> Iterator[Stored]:
        """All that it holds."""
        begin = self._named("")
        for one in self._bucket.bucket.objects.filter(Prefix=begin.rstrip("/")):
            name = one.key.rpartition("/")[2]
            if len(name) == 64:
                yield Stored(name, one.size, one.last_modified.timestamp())

    def _named(self, sha256: str) -> str:
        below = self._bucket.location.strip("/")
        return f"{below}/{_key(sha256)}".lstrip("/") if sha256 else below


def _key(sha256: str) -> str:
    return f"{sha256[:2]}/{sha256}"
