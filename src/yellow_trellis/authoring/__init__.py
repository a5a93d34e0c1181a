"""For the author of a rule: examples run, coverage, invariants, scaffolds."""
