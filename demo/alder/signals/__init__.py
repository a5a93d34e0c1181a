"""Signals, by junction."""
