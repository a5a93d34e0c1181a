"""The house libraries. The old ones are to go; see README."""
