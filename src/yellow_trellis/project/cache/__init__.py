"""What is kept of a project between runs: a help, and never the truth."""
