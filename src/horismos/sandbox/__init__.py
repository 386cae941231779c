"""Children under limits: programs, and work of our own on files that nobody vouches for.

``pool`` has children that are forked beforehand and asked again, in a ``jail`` where there is one; ``programs`` runs
what is not ours, ``aside`` what cannot be stopped; ``limits`` says what each may take, ``memory`` what it holds.
"""
