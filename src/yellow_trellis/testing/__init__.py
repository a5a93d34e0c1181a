"""For those who write rules: helpers for their tests, and a pytest plugin that runs examples."""

from yellow_trellis.testing.authors import (
    becomes as becomes,
    clashes_with as clashes_with,
    find as find,
    fix as fix,
    stays as stays,
)
