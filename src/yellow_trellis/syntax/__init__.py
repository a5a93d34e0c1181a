"""The concrete syntax tree: every byte in a leaf or in the space between two leaves."""

from yellow_trellis.syntax.node import Node
from yellow_trellis.syntax.same import same_code
from yellow_trellis.syntax.tree import Tree
from yellow_trellis.syntax.trivia import Attached, attached

__all__ = ["Attached", "Node", "Tree", "attached", "same_code"]
