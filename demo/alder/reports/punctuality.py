"""How late the trams are. The council reads only the last line."""

from alder.house.clock import CITY, STREET, stamp
from alder.house.say import say


class Sighting:
    """A car seen at a stop."""

    def __init__(self, line, stop, due, seen=None):
        self.line = line
        self.stop = stop
        self.due = due
        self.seen = seen or stamp(STREET, exact=True)

    def delay(self):
        """Minutes late; early counts as on time."""
        return max((self.seen - self.due).total_seconds() / 60, 0)


def late(sightings, limit=3):
    return [s for s in sightings if not s.delay() <= limit]


def share_on_time(sightings):
    """Part of all sightings that were on time, None without any."""
    if len(sightings) == 0:
        return None
    return 1 - len(late(sightings)) / float(len(sightings))


def by_line(sightings):
    result = {}
    for sighting in sightings:
        if not sighting.line in result:
            result[sighting.line] = []
        result[sighting.line].append(sighting)
    return result


def report(sightings):
    """Text for the council."""
    lines = ["Punctuality, %s" % stamp(CITY).date()]
    for number, seen in sorted(by_line(sightings).items()):
        share = share_on_time(seen)
        if share == None:
            say("warning", "no sightings on line %d", number)
            continue
        lines.append("Line %2d: %3d %%" % (number, round(100 * share)))
    total = share_on_time(sightings)
    if total == None:
        lines.append("No trams were seen.")
    else:
        lines.append("All lines: %d %%" % round(100 * total))
    return "\n".join(lines)


def worst(sightings):
    try:
        return max(sightings, key=lambda s: s.delay())
    except:
        return None
