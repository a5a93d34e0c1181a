"""The fourteen lines. Each is a module, as the planning office sends them."""

from alder.lines import line_01, line_02, line_03, line_04
from alder.lines import (
    line_05,
    line_06,
    line_07,
    line_08,
    line_09,
    line_10,
    line_11,
    line_12,
    line_13,
    line_14,
)

ALL = [
    line_01,
    line_02,
    line_03,
    line_04,
    line_05,
    line_06,
    line_07,
    line_08,
    line_09,
    line_10,
    line_11,
    line_12,
    line_13,
    line_14,
]


def by_number(number):
    for line in ALL:
        if line.NUMBER == number:
            return line
    return None
