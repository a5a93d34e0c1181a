"""Work over a workspace that is cancelled, at whatever moment, ends with that reason alone."""

import random
import threading
import time
from pathlib import Path

import pytest

from yellow_trellis.editor.job import Job
from yellow_trellis.editor.worker import WorkerError
from yellow_trellis.runs.processes.child import Child


def test_a_job_that_is_cancelled_says_so_whenever_that_is(tmp_path: Path) -> None:
    (tmp_path / "trellis.toml").write_text("rules = []\n")
    for seed in range(12):
        job = Job("utf-16", False, {})
        timer = threading.Timer(random.Random(seed).uniform(0, 0.3), job.cancel)
        timer.start()
        with pytest.raises(WorkerError, match="was cancelled"):
            for _ in range(100):
                job.answer("survey", (str(tmp_path),), lambda done, total: None)
        timer.join()


def _sleeps(pipe: object) -> None:
    time.sleep(60)


def test_a_child_may_be_ended_by_several_threads_at_once() -> None:
    failed: list[BaseException] = []

    def attempt(work: object) -> None:
        try:
            work()  # type: ignore[operator]
        except BaseException as error:
            failed.append(error)

    for _ in range(40):
        child = Child(_sleeps, (), start="fork")

        def read(child: Child = child) -> None:
            with pytest.raises(EOFError):
                child.pipe.recv()
            child.end()

        threads = [threading.Thread(target=attempt, args=(read,))]
        threads += [threading.Thread(target=attempt, args=(child.kill,)) for _ in range(3)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    assert failed == []
