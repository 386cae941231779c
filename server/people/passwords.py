"""What a password may not be, beside what Django's own rules say."""

from django.contrib.auth.models import AbstractBaseUser
from django.core.exceptions import ValidationError

__all__ = ["Varied"]

LEAST_OWN = 8
"""[ours] so many signs a password has of its own: with the name taken out, and each repetition counted once."""
LEAST_KINDS = 5
"""[ours] so many different signs."""


class Varied:
    """Refuses a name that is written several times, and one short piece that is."""

    def validate(self, password: str, user: AbstractBaseUser | None = None) -> None:
        """Raise ValidationError for a password that is mostly a name or a repetition."""
        name = user.get_username().casefold() if user is not None else ""
        own = password.casefold()
        if name:
            own = own.replace(name, "").replace(name[::-1], "")
        if len(_piece(own)) < LEAST_OWN or len(set(own)) < LEAST_KINDS:
            raise ValidationError(self.get_help_text(), code="password_repeats")

    def get_help_text(self) -> str:
        """What is wanted."""
        return (
            "This password is the name, or one piece, written several times. "
            f"Without the name it needs {LEAST_OWN} signs, {LEAST_KINDS} of them different."
        )


def _piece(text: str) -> str:
    """The shortest piece that a text is made of by being repeated, the last time perhaps in part."""
    for size in range(1, len(text)):
        if all(text[i] == text[i % size] for i in range(len(text))):
            return text[:size]
    return text
