"""Exit codes of commands."""

CLEAN, FOUND, WRONG_CALL, UNHANDLED, INTERRUPTED = 0, 1, 2, 3, 130
"""Exit status: nothing found; found or conflicting; a call that is wrong; something unhandled;
stopped from the keyboard."""
