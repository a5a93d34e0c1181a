"""Trees: nodes with every token and comment, and who owns which comment."""

from yellow_trellis.lazy_imports import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.syntax.comment_ownership import Attached, attached
    from yellow_trellis.syntax.equivalence import same_code
    from yellow_trellis.syntax.node import Node
    from yellow_trellis.syntax.parse import parse_text
    from yellow_trellis.syntax.tree import Tree

_HOMES = {
    "comment_ownership": ("Attached", "attached"),
    "equivalence": ("same_code",),
    "node": ("Node",),
    "parse": ("parse_text",),
    "tree": ("Tree",),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = [
    "Attached",
    "Node",
    "Tree",
    "attached",
    "parse_text",
    "same_code",
]
