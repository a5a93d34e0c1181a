"""Runs: files through the pipeline, in worker processes, to a result."""
