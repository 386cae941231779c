"""What people send: written into the store as it comes in, once, under the hash of what it is."""

from io import BytesIO
from typing import TYPE_CHECKING, Any

from django.core.files.uploadedfile import UploadedFile
from django.core.files.uploadhandler import FileUploadHandler

from horismos.errors import CannotWrite, HorismosError
from jobs.store.files import Incoming, local

__all__ = ["StoredUpload", "StoringHandler", "kept"]


if TYPE_CHECKING:
    Upload = UploadedFile[Any]
else:
    Upload = UploadedFile


class StoredUpload(Upload):
    """An upload that lies in the store already, or could not be stored."""

    def __init__(self, name: str, kind: str, size: int, sha256: str, failed: HorismosError | None) -> None:
        super().__init__(local(sha256).open("rb") if sha256 else BytesIO(), name, kind, size)
        self.sha256, self.failed = sha256, failed


class StoringHandler(FileUploadHandler):
    """Hands each part of an upload to the store.

    What fails is told when the upload is asked for: to end with an error while a body is being read would answer
    with a fault and no words.
    """

    incoming: Incoming | None = None
    failed: HorismosError | None = None

    def new_file(self, *args: Any, **more: Any) -> None:
        """Begin one file."""
        super().new_file(*args, **more)
        self.failed = self.incoming = None
        try:
            self.incoming = Incoming()
        except CannotWrite as error:
            self.failed = error

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        """Write a part."""
        if self.incoming is None:
            return
        try:
            self.incoming.write(raw_data)
        except CannotWrite as error:
            self.failed = error
            self.upload_interrupted()

    def file_complete(self, file_size: int) -> StoredUpload:
        """All of it is there."""
        sha256 = ""
        try:
            sha256 = self.incoming.keep() if self.incoming is not None else ""
        except CannotWrite as error:
            self.failed = error
        return StoredUpload(self.file_name or "", self.content_type or "", file_size, sha256, self.failed)

    def upload_interrupted(self) -> None:
        """The sender went away, or the disk is full: nothing stays."""
        if self.incoming is not None:
            self.incoming.drop()
            self.incoming = None


def kept(file: Upload) -> str:
    """The hash under which an upload lies in the store. Raises CannotWrite where it could not be stored."""
    if not isinstance(file, StoredUpload):  # what a program within the shop made
        incoming = Incoming()
        for part in file.chunks():
            incoming.write(part)
        return incoming.keep()
    if file.failed is not None:
        raise file.failed
    return file.sha256
