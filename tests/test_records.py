"""Records are like those of the standard library, the first of a kind and the hundredth."""

import copy
import pickle
from dataclasses import dataclass
from dataclasses import field as other_field

import pytest

from yellow_trellis.records import field, record, replace


@record(frozen=True)
class Stop:
    name: str
    platforms: tuple[int, ...] = (1,)
    lines: list[str] = field(default_factory=list, compare=False, repr=False)

    def __post_init__(self) -> None:
        if not self.name:
            raise ValueError("a stop has a name")


@dataclass(frozen=True)
class OtherStop:
    name: str
    platforms: tuple[int, ...] = (1,)
    lines: list[str] = other_field(default_factory=list, compare=False, repr=False)


@record(frozen=True, slots=True)
class Leg:
    start: str
    end: str = "depot"


@record(eq=False)
class Tram:
    number: int
    at: str = "depot"


def test_a_record_is_like_the_standard_one() -> None:
    for number in range(20):
        one, other = Stop("quay", platforms=(number,)), OtherStop("quay", platforms=(number,))
        assert repr(one) == repr(other).replace("OtherStop", "Stop")
        assert (one.name, one.platforms, one.lines) == (other.name, other.platforms, [])
        assert one == Stop("quay", (number,), ["7"]) and hash(one) == hash(other)
        assert one != Stop("quay", (number + 1,)) and one != other
    assert Stop("a").lines is not Stop("a").lines
    assert replace(Stop("a", (2,), ["7"]), name="b").lines == ["7"]
    with pytest.raises(ValueError, match="has a name"):
        Stop("")


@pytest.mark.parametrize("made", [1, 30])
def test_wrong_calls_and_changes_are_refused(made: int) -> None:
    @record(frozen=True)
    class Fare:
        zone: int
        card: str = ""

    for _ in range(made):
        Fare(1)
    for values, named in (((), {}), ((1, "a", 2), {}), ((1,), {"zone": 2}), ((), {"x": 1})):
        with pytest.raises(TypeError):
            Fare(*values, **named)
    with pytest.raises(AttributeError, match="frozen"):
        Fare(1).zone = 2
    with pytest.raises(AttributeError):
        Leg("a").end = "b"


def test_records_travel_and_are_kept_apart() -> None:
    for _ in range(20):
        for one in (Stop("a", (2,), ["7"]), Leg("a"), Leg("a", end="b")):
            assert pickle.loads(pickle.dumps(one)) == one == copy.copy(one)
    assert not hasattr(Leg("a"), "__dict__")
    assert Tram(1) != Tram(1) and Tram(1).at == Tram.at == "depot"
    tram = Tram(1)
    tram.at = "quay"
    assert (tram.at, Tram(2).at) == ("quay", "depot")
