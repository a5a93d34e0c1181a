"""Expressions of Swift that the grammar groups otherwise than the compiler.

Source: the precedence groups of Swift's standard library, held against what the grammar makes of
real code, and of random code in `tests/languages/test_precedence.py`.
"""

from __future__ import annotations

from yellow_trellis.languages.misgroupings import misgroupings

_BELOW_OR = "disjunction_expression"
_BELOW_AND = f"conjunction_expression {_BELOW_OR}"
_BELOW_COMPARISON = f"comparison_expression equality_expression infix_expression {_BELOW_AND}"
_BINARY = (
    "additive_expression as_expression bitwise_operation check_expression "
    "multiplicative_expression nil_coalescing_expression range_expression ternary_expression "
    f"{_BELOW_COMPARISON}"
)
_WORDS = "await_expression try_expression"
_BELOW_SUFFIX = f"prefix_expression[- + ~ & bang] {_WORDS} {_BINARY}"
MISGROUPED = misgroupings(
    f"call_expression: {_BELOW_SUFFIX}",
    f"navigation_expression.target: {_BELOW_SUFFIX}",
    f"postfix_expression.target: {_BELOW_SUFFIX}",
    f"prefix_expression.target: {_BINARY}",
    f"equality_expression.rhs: {_BELOW_COMPARISON}",
    f"comparison_expression.rhs: {_BELOW_COMPARISON}",
    f"bitwise_operation.rhs: {_BELOW_COMPARISON}",
    f"additive_expression.rhs: as_expression {_BELOW_COMPARISON}",
    f"multiplicative_expression.rhs: additive_expression {_BELOW_COMPARISON}",
    f"infix_expression.rhs: ternary_expression {_BELOW_COMPARISON}",
    f"nil_coalescing_expression.if_nil: {_BELOW_COMPARISON}",
    f"nil_coalescing_expression.value: {_WORDS}",
    f"conjunction_expression.rhs: {_BELOW_OR}",
    f"ternary_expression.condition: ternary_expression {_WORDS}",
    f"range_expression.start: {_WORDS}",
    f"as_expression.expr: {_WORDS}",
    *(
        f"{kind}.lhs: {_WORDS}"
        for kind in "additive_expression bitwise_operation comparison_expression "
        "conjunction_expression disjunction_expression equality_expression infix_expression "
        "multiplicative_expression".split()
    ),
)
