"""The rider page, which is JavaScript: from callbacks to promises."""

from yellow_trellis import Example, Rule

board_by_promise = Rule(
    "board-by-promise",
    summary="fetchBoard() takes a callback; loadBoard() gives a promise.",
    find="fetchBoard(@{stop}, @{callback})",
    put="loadBoard(@{stop}).then(@{callback})",
    language="javascript",
    tags=["page"],
    examples=[
        Example(
            "fetchBoard(stop, (rows) => draw(rows));",
            becomes="loadBoard(stop).then((rows) => draw(rows));",
        ),
        Example("page.fetchBoard(stop, draw)", stays=True),
    ],
)
