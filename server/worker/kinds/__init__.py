"""What a worker can be asked for: a file a kind, found by being here."""

from importlib import import_module
from pkgutil import iter_modules

for _module in iter_modules(__path__):
    import_module(f"{__name__}.{_module.name}")
