"""The kinds of nodes that refer to something by its name, and the places that do not."""

from __future__ import annotations

from yellow_trellis.languages.language import fields, kinds

REFERENCES = kinds(
    "identifier member_expression nested_identifier nested_type_identifier type_identifier"
)
NO_REFERENCES = fields(
    "catch_clause.parameter class_declaration.name export_specifier.alias for_in_statement.left "
    "function_declaration.name import_specifier labeled_statement.label variable_declarator.name"
)
"""Places of a name that refer to nothing: where one is bound."""
