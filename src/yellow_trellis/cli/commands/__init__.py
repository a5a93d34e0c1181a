"""The commands of `ytr`, one a module."""
