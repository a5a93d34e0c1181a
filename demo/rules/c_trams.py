"""Money, trams, fares and signals: what the house itself has changed."""

from yellow_trellis import Example, Rule, fix, rule

OLD_MONEY = "from alder.house.money import less"
OLD_TRAMS = "from alder.vehicles.base import halt"

less_to_reduce = Rule(
    "less-to-reduce",
    summary="less() is called reduce_by(), and what is taken off comes first.",
    find="@<alder.house.money.less>(@{amount}, @{off})",
    put="@<alder.house.money.reduce_by>(@{off}, @{amount})",
    tags=["money"],
    examples=[
        Example("less(cost, grant)", becomes="reduce_by(grant, cost)", given=OLD_MONEY),
        Example(
            "less(less(cost, wear), grant)",
            becomes="reduce_by(grant, reduce_by(wear, cost))",
            given=OLD_MONEY,
        ),
        Example(
            "less(\n    cost,  # what the works asked\n    grant,  # may be nothing\n)",
            becomes="reduce_by(\n    grant,  # may be nothing\n    cost,  # what the works asked\n)",
            given=OLD_MONEY,
        ),
    ],
)

halt_by_method = Rule(
    "halt-by-method",
    summary="A tram halts itself: halt(tram) is tram.halt_now().",
    find="@<alder.vehicles.base.halt>(@{tram})",
    put="@{tram}.halt_now()",
    tags=["trams"],
    help="Only the function; methods called halt do something else.",
    examples=[
        Example("halt(self.car)", becomes="self.car.halt_now()", given=OLD_TRAMS),
        Example("halt(first or second)", becomes="(first or second).halt_now()", given=OLD_TRAMS),
        Example("self.halt(car)", stays=True, given=OLD_TRAMS),
        Example("track.halt(car)", stays=True),
        Example("text = 'halt(tram)'  # halt(tram)", stays=True),
        Example("def halt(tram): pass", stays=True),
    ],
)

name_the_fare = Rule(
    "name-the-fare",
    summary="Both arguments of fare() look like numbers: name them.",
    find="fare(@{zone}, @{card})",
    put="fare(zone=@{zone}, card=@{card})",
    tags=["fares"],
    help="Made to clash with fare-by-card: both want the same calls. This one comes first.",
    examples=[Example("fare(2, card)", becomes="fare(zone=2, card=card)")],
)

fare_by_card = Rule(
    "fare-by-card",
    summary="A card knows its fares: ask the card.",
    find="fare(@{zone}, @{card: name})",
    put="@{card}.fare(@{zone})",
    tags=["fares"],
    help="Made to clash with name-the-fare: both want the same calls. That one comes first.",
    examples=[
        Example("fare(2, card)", becomes="card.fare(2)"),
        Example("fare(2, None)", stays=True),
    ],
)

no_table_import = Rule(
    "no-table-import",
    summary="Tables come from the database now: reading one at start does nothing.",
    find="import_table(@{name: string})",
    put="",
    level="note",
    tags=["tables"],
    examples=[
        Example('import_table("line_01.tab")\nNUMBER = 1', becomes="NUMBER = 1"),
        Example("import_table(name)", stays=True),
    ],
)


@rule(
    "show-every-aspect",
    summary="A signal shows each aspect that it defines.",
    find="class @{name}(Signal): @{body+}",
    level="error",
    tags=["signals"],
    examples=[
        Example(
            "class Loop(Signal):\n    stop = Aspect('stop')\n    clear = Aspect('clear')\n\n    show(stop)",
            becomes=(
                "class Loop(Signal):\n    stop = Aspect('stop')\n    clear = Aspect('clear')\n\n"
                "    show(stop)\n    show(clear)"
            ),
        ),
        Example("class Lamp(Thing):\n    stop = Aspect('stop')", stays=True),
    ],
)
def show_every_aspect(match, code):
    """An aspect that is never shown has no lamps wired to it."""
    body = match.run_of("body")
    last = [found.node for found in code.seek(body, "show(@{_})")] or [body[-1]]
    for place, aspect in enumerate(code.seek(body, "@{label} = Aspect(@{_*})")):
        label = aspect.node_of("label").text
        if label.isidentifier() and not code.contains(body, f"show({label})"):
            yield code.finding(
                aspect,
                f"{label} is never shown",
                [fix("Show it").after(last[-1].parent, f"show({label})", order=place)],
            )
