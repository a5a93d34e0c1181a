"""Lets ``python -m yellow_trellis`` be the command ``ytr``."""

from yellow_trellis.cli import main

if __name__ == "__main__":
    main()
