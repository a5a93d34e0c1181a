"""The cars, by series."""
