"""Depots: where trams sleep and people start their day."""
