"""A lock with names that the yard understands."""

import threading


class Lock:
    def __init__(self, name):
        self.name = name
        self._lock = threading.RLock()

    def take(self):
        self._lock.acquire()

    def give(self):
        self._lock.release()

    def __enter__(self):
        self.take()
        return self

    def __exit__(self, *what):
        self.give()
