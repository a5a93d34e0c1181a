"""The proof before writing: a text is made, compared and accounted for."""
