"""The kinds of registration marks: a file a kind, found by being here."""

from horismos.sheet.mark_kinds.register import Arms, Mark, MarkKind, Probe, kind_of, register, registered

__all__ = ["Arms", "Mark", "MarkKind", "Probe", "kind_of", "register", "registered"]
