"""The project that a run is about: its settings, files, owners, and modules."""
