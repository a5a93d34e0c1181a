"""Trees: nodes with every token and comment, and who owns which comment."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.syntax.node import Node
    from yellow_trellis.syntax.same import same_code
    from yellow_trellis.syntax.tree import Tree
    from yellow_trellis.syntax.trivia import Attached, attached

_HOMES = {
    "node": ("Node",),
    "same": ("same_code",),
    "tree": ("Tree",),
    "trivia": ("Attached", "attached"),
}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = ["Attached", "Node", "Tree", "attached", "same_code"]
