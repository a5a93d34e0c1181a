"""Rules that ask for names by meaning: one that a library has, one that no file says."""

from yellow_trellis import Rule

warned = Rule("warned-by-meaning", summary="warnings.warn", find="@<warnings.warn>(@{args*})")
stamp = Rule("stamp-by-meaning", summary="stamp", find="@<tramline.clock.stamp_it>(@{args*})")
