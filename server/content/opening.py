"""Which store an address means."""

from pathlib import Path
from urllib.parse import parse_qsl, urlsplit

from content.folder import FolderStore
from content.store import Store
from horismos.errors import BadValue

__all__ = ["store_at"]


def store_at(address: str, cache: Path, cache_bytes: int) -> Store:
    """The store that an address means: a folder, or ``s3://bucket/below?endpoint=http://host:port``.

    ``cache`` is where files from elsewhere are kept. Raises BadValue.
    """
    if not address.startswith("s3://"):
        return FolderStore(Path(address))
    from content.bucket import BucketStore  # what it needs is not there where no bucket is

    said, known = urlsplit(address), {"endpoint", "region"}
    query = dict(parse_qsl(said.query))
    if not said.netloc or set(query) - known:
        raise BadValue(f"{address} is no store.", "Say s3://bucket, with ?endpoint=… where it is no public one.")
    return BucketStore(said.netloc, said.path.strip("/"), cache, cache_bytes, **query)
