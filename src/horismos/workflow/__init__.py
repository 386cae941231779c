"""One job's way through the house, as functions from values to values, each in a file of its own.

The only thing that server, worker and command line call: ``take_in``, ``analyse``, ``mend``, ``plan``, ``papers``,
``trial``, ``release``, ``rehearse``, on a ``case``. ``steps`` has them as a server asks children for them;
``showing`` has the values that screens show. Nothing is imported here: a command starts with what it needs.
"""
