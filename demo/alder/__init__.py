"""Alder Tramways: what runs the trams of a city that does not exist."""

__version__ = "10.4"
