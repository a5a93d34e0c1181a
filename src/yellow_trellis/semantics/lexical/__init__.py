"""Names in languages with block scopes, by the rules that each language declares."""
