"""Children under limits: programs, and work of our own on files that nobody vouches for.

``pool`` has children that are forked beforehand and asked again, ``programs`` runs what is not ours, ``limits``
says what each may take.
"""
