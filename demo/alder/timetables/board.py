"""The boards at the stops: the next trams of all lines."""

from alder import lines
from alder.house.clock import STREET, stamp
from alder.house.say import say

ROWS = 6
BLANK = "-" * 24


class Board(object):
    def __init__(self, stop, rows=ROWS):
        self.stop = stop
        self.rows = rows
        self.text = []
        self.dark = False

    def departures(self, now=None):
        """Pairs of minutes and line, the soonest first."""
        if now == None:
            now = stamp(STREET)
        found = []
        for line in lines.ALL:
            if not line.calls_at(self.stop):
                continue
            wait = line.next_departure(self.stop, now)
            if not wait == None:
                found.append((wait, line))
        found.sort(key=lambda pair: (pair[0], pair[1].NUMBER))
        return found[:self.rows]

    def refresh(self, now=None):
        rows = self.departures(now)
        if len(rows) == 0:
            self.text = [BLANK]
            return
        self.text = []
        for wait, line in rows:
            # two blanks for lines below ten, the font is not even
            self.text.append("%3d  %-16s %2d min" % (line.NUMBER, line.STOPS[-1], wait))

    def show(self):
        """What the lamps show."""
        if not self.dark:
            return "\n".join(self.text)
        else:
            return ""


def refresh_all(boards, lock, now=None):
    lock.take()
    for board in boards:
        try:
            board.refresh(now)
        except:
            say("error", "board at %s is stuck", board.stop)
            board.dark = True
    lock.give()


def dark_boards(boards):
    return [board.stop for board in boards if board.dark == True]
