"""A letter as a message that any mail program opens: RFC 5322 with its attachments as MIME."""

from collections.abc import Mapping
from datetime import datetime
from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime

__all__ = ["message"]


def message(
    shop: str, to: str, subject: str, text: str, files: Mapping[str, bytes], when: datetime, key: str
) -> bytes:
    """A message with PDF files; ``key`` makes its id, and the same message has the same bytes.

    Without an address it says nobody that it goes to, which RFC 5322 allows: whoever opens it says that.
    """
    made = EmailMessage(policy=SMTP)
    made["Subject"] = " ".join(subject.split())
    made["From"] = Address(display_name=" ".join(shop.split()) or "Horismos", username="shop", domain="shop.invalid")
    if to:
        made["To"] = to
    made["Date"] = format_datetime(when)
    made["Message-ID"] = f"<{key[:32]}@shop.invalid>"
    made.set_content(text)
    for name, data in files.items():
        made.add_attachment(data, maintype="application", subtype="pdf", filename=name)
    if files:
        made.set_boundary(f"part-{key[:24]}")
    return made.as_bytes()
