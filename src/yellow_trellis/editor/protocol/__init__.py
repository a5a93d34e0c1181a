"""The server: all that knows the Language Server Protocol."""
