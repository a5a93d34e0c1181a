"""The version, alone in a file so that asking for it imports nothing else."""

__version__ = "0.2.0"
