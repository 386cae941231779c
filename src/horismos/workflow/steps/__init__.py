"""The steps of a job as a server asks for them: stored content and values in, plain values and bytes out.

Each is carried out by a limited child (``horismos.sandbox``), so that no file is read, unpacked or drawn in a
process that holds anything else. What they give can be kept as it is.
"""
