"""Writing a run and taking it back: each file old or new, nothing else touched."""
