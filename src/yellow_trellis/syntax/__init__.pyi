"""Trees: nodes with every token and comment, and who owns which comment."""

from yellow_trellis.syntax.comment_ownership import Attached as Attached, attached as attached
from yellow_trellis.syntax.equivalence import same_code as same_code
from yellow_trellis.syntax.node import Node as Node
from yellow_trellis.syntax.parse import parse_text as parse_text
from yellow_trellis.syntax.tree import Tree as Tree
