"""Selection of the bytes to parse: the shortcuts of a survey, all behind one function."""

from yellow_trellis.scan.locality import local_rules as local_rules
from yellow_trellis.scan.selection import Selection as Selection, select as select
