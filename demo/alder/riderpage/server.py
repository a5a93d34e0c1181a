"""Serves the rider page. One process, no framework: it was written in a weekend."""

import json
from http.server import BaseHTTPRequestHandler

from alder import lines
from alder.fares import zones
from alder.fares.cards import PlainCard
from alder.fares.quotes import fare
from alder.house.clock import CITY, stamp
from alder.house.say import say
from alder.timetables.board import Board


class Page(BaseHTTPRequestHandler):
    """Answers three questions: what comes next, what it costs, what is wrong."""

    def do_GET(self):
        path, _, query = self.path.partition("?")
        if path == "/board":
            self.answer(board(query))
        elif path == "/fare":
            self.answer(price(query))
        elif path == "/alerts":
            self.answer(ALERTS)
        else:
            say("warning", "no such page: %s", path)
            self.send_error(404)

    def answer(self, value):
        body = json.dumps(value).encode("utf-8")
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.end_headers()
        self.wfile.write(body)


ALERTS = []


def board(query):
    """Departures at a stop."""
    found = Board(query).departures(stamp(CITY))
    return [{"line": line.NUMBER, "minutes": wait} for wait, line in found]


def price(query):
    """Price of a ride, `from` and `to` in the query."""
    if not "&" in query:
        return None
    start, end = query.split("&", 1)
    card = PlainCard("page")
    amount = fare(zones.between(start, end), card)
    return {"cents": amount.cents, "text": str(amount)}


def alert(number, text):
    """Put an alert on the page. `fare(zone, card)` in a text is only text."""
    line = lines.by_number(number)
    if line == None:
        say("error", "no line %d", number)
        return False
    ALERTS.append({"line": number, "text": text, "at": str(stamp(CITY, exact=True))})
    return True
