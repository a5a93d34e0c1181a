"""The files of a code base in Python: their modules, and what each says of the others."""
