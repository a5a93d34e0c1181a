"""From the old clock, the old log and the old lock to the new ones."""

from yellow_trellis import Example, Rule, fix, rule

OLD_CLOCK = "from alder.house.clock import stamp"
OLD_LOG = "from alder.house.say import say"

stamp_to_tick = Rule(
    "stamp-to-tick",
    summary="stamp() goes away; tick() takes the zone by name.",
    find="@<alder.house.clock.stamp>(@{zone}, @{rest*: keyword_argument})",
    put="@<alder.house.timeline.tick>(zone=@{zone}, @{rest*})",
    tags=["clock"],
    examples=[
        Example("now = stamp(CITY)", becomes="now = tick(zone=CITY)", given=OLD_CLOCK),
        Example("stamp(CITY, exact=True)", becomes="tick(zone=CITY, exact=True)", given=OLD_CLOCK),
        Example(
            "stamp(\n    CITY,  # in town\n    exact=True,\n)",
            becomes="tick(\n    zone=CITY,  # in town\n    exact=True,\n)",
            given=OLD_CLOCK,
        ),
        Example(
            "from alder.house import clock as c\n\nnow = c.stamp(CITY)",
            becomes="from alder.house import timeline\n\nnow = timeline.tick(zone=CITY)",
        ),
        Example("letter.stamp(CITY)", stays=True, given=OLD_CLOCK),
        Example("def stamp(zone): pass\nstamp(CITY)", stays=True),
        Example("stamp()", stays=True, given=OLD_CLOCK),
    ],
)

lock_as_block = Rule(
    "lock-as-block",
    summary="A lock is held by a with block, so that it is given back whatever happens.",
    find="@{lock}.take()\n@{work+}\n@{lock}.give()",
    put="with @{lock}:\n    @{work+}",
    tags=["lock"],
    examples=[
        Example(
            "lock.take()\nroute.set()\n# points first\npoints.throw()\nlock.give()",
            becomes="with lock:\n    route.set()\n    # points first\n    points.throw()",
        ),
        Example("one.take()\nwork()\nother.give()", stays=True),
    ],
)


@rule(
    "say-to-log",
    summary="say() goes away; the log has one function a level.",
    find="@<alder.house.say.say>(@{level: string}, @{text}, @{values*})",
    tags=["log"],
    examples=[
        Example('say("info", "car %d", 7)', becomes='log.info("car %d", 7)', given=OLD_LOG),
        Example('say(level, "car %d", 7)', stays=True, given=OLD_LOG),
        Example('say("loud", "car %d", 7)', stays=True, given=OLD_LOG),
        Example('person.say("info", "hello")', stays=True),
    ],
)
def say_to_log(match, code):
    """The level becomes the name of the function. A level that is no plain word stays."""
    level = match.node_of("level").text.strip("'\"")
    if level not in ("info", "warning", "error"):
        return
    yield code.finding(
        match,
        f"say({level!r}, ...) is log.{level}(...)",
        [fix(f"Call log.{level}").put(match, f"@<alder.house.log>.{level}(@{{text}}, @{{values*}})")],
    )
