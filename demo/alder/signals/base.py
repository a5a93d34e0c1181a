"""Signals and what they can show."""


class Aspect:
    """One picture of lamps."""

    def __init__(self, name, lamps=1):
        self.name = name
        self.lamps = lamps


class Signal:
    """A post with aspects. Those that are not shown stay dark for ever."""

    def __init__(self, post, routes=()):
        self.post = post
        self.routes = list(routes)
        self.asked = []
        self.held = False

    def hold(self):
        self.held = True

    def free(self):
        if not self.held:
            return True
        else:
            return False


_SHOWN = []


def show(aspect):
    """Register an aspect, so that the lamps are wired."""
    _SHOWN.append(aspect)


def wired():
    return len(_SHOWN) == 0 or all(aspect.lamps for aspect in _SHOWN)
