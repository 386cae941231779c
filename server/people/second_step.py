"""The second step of a log-in: a code of an authenticator (RFC 6238), or one of ten that were written down."""

import base64
from dataclasses import dataclass
from io import BytesIO

import segno
from django.contrib.auth.models import User
from django.db import transaction
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from horismos.errors import BadValue, NotReady

__all__ = ["Begun", "begin", "confirm", "has_one", "passes", "put_off"]

SPARE = 10
DIGITS = 6
"""By so many figures a code of an authenticator is told from one that was written down."""


@dataclass(frozen=True)
class Begun:
    """What an authenticator is given: the picture to be read by it, as SVG, and the same to be typed."""

    picture: str
    secret: str


def has_one(user: User) -> bool:
    """Whether a person has to give a code."""
    return bool(TOTPDevice.objects.filter(user=user, confirmed=True).exists())


def begin(user: User) -> Begun:
    """Make a secret; it counts once a code of it was given. Raises NotReady where there is one that counts."""
    if has_one(user):
        raise NotReady("You have a second step already.", "Put it off first.")
    TOTPDevice.objects.filter(user=user, confirmed=False).delete()
    device = TOTPDevice.objects.create(user=user, name="authenticator", confirmed=False)
    out = BytesIO()
    segno.make(device.config_url, error="m").save(out, kind="svg", scale=4, border=4, xmldecl=False, svgns=True)
    return Begun(
        f"data:image/svg+xml;base64,{base64.b64encode(out.getvalue()).decode()}",
        base64.b32encode(device.bin_key).decode().rstrip("="),
    )


def confirm(user: User, code: str) -> list[str]:
    """Let it count from now on; gives the codes to be written down. Raises BadValue for a wrong code."""
    device = TOTPDevice.objects.filter(user=user, confirmed=False).first()
    if device is None:
        raise NotReady("There is nothing to confirm.", "Begin again.")
    if not device.verify_token(code.strip().replace(" ", "")):
        raise BadValue("That is not the code that it shows now.", "Wait for the next one, and type that.")
    with transaction.atomic():
        device.confirmed = True
        device.save(update_fields=["confirmed"])
        StaticDevice.objects.filter(user=user).delete()
        spare = StaticDevice.objects.create(user=user, name="written down", confirmed=True)
        codes = [StaticToken.random_token() for _ in range(SPARE)]
        StaticToken.objects.bulk_create(StaticToken(device=spare, token=one) for one in codes)
    return codes


def passes(user: User, code: str) -> bool:
    """Whether a code is right now; each counts once, and after wrong ones there is a pause that grows."""
    wanted = code.strip().replace(" ", "")
    shown = len(wanted) == DIGITS and wanted.isdigit()
    devices = list((TOTPDevice if shown else StaticDevice).objects.filter(user=user, confirmed=True))
    with transaction.atomic():
        return any(bool(device.verify_is_allowed()[0] and device.verify_token(wanted)) for device in devices)


def put_off(user: User) -> None:
    """Let a person log in by name and password alone again."""
    for device in (TOTPDevice, StaticDevice):
        device.objects.filter(user=user).delete()


