"""Rule files and packs: read, checked, and their rules made."""
