"""The language of a header: ``.h`` is the ending of those of C and of C++."""

from __future__ import annotations

import re

_QUICK = re.compile(
    rb"\b(?:namespace|template|class|virtual|operator|(?:public|private|protected)\s*:|"
    rb"(?:static|const|dynamic|reinterpret)_cast|extern\s*\"C\")"
    rb"|::|#[ \t]*include[ \t]*<\w+>|&\s*\w*\s*[,)]"
)
"""What stands in any code that `_ONLY_CPP` knows; also in comments, and where C says it."""
_NO_CODE = re.compile(
    rb'/\*.*?\*/|//[^\n]*|(?P<text>"(?:\\.|[^"\\\n])*")|\'(?:\\.|[^\'\\\n])*\'', re.DOTALL
)
_BEGIN = re.compile(rb"#[ \t]*if")
_END = re.compile(rb"#[ \t]*endif")
_DEFINE = re.compile(rb"#[ \t]*define")
_NAME = rb"[A-Za-z_]\w*"
_PATH = _NAME + rb"(?:::" + _NAME + rb")*"
_ONLY_CPP = re.compile(
    rb"(?<![\w.>])(?:"
    rb"(?:using\s+|inline\s+)?namespace(?:\s+[\w:]+)*\s*[{;=]"
    rb"|template\s*<"
    rb"|(?:enum\s+)?class\s+(?:" + _NAME + rb"\s+)*" + _PATH + rb"\s*(?:final\s*)?[{;:<]"
    rb"|(?:public|private|protected)\s*:"
    rb"|virtual\s+[\w~]"
    rb"|operator\s*(?:[^\w\s]|\(\s*\)|new\b|delete\b)"
    rb"|(?:static|const|dynamic|reinterpret)_cast\s*<"
    rb"|(?!gnu\b|clang\b)" + _NAME + rb"\s*::\s*[A-Za-z_~]"
    rb"|const\s+\w+\s*&\s*\w*\s*[,)]"
    rb'|extern\s+"C"'
    rb")|#[ \t]*include[ \t]*<[a-z_]+>"
)
"""Code that no compiler of C takes. Source: the grammars of ISO/IEC 9899 and 14882."""


def is_cpp(header: bytes) -> bool:
    """Return whether the text of a header says what only C++ can read.

    What is for compilers of C++ only, between ``#if`` with ``__cplusplus`` and its ``#endif``, says
    nothing, and neither do the bodies of macros.
    """
    if _QUICK.search(header) is None:
        return False
    plain = _NO_CODE.sub(lambda match: b'"C"' if match["text"] == b'"C"' else b" ", header)
    return _ONLY_CPP.search(b"\n".join(_for_both(plain.replace(b"\\\n", b" ")))) is not None


def _for_both(code: bytes) -> list[bytes]:
    """Return the lines of code that compilers of both languages read."""
    lines: list[bytes] = []
    depth = only_cpp = 0
    for line in code.splitlines():
        text = line.strip()
        if _BEGIN.match(text):
            depth += 1
            if not only_cpp and b"__cplusplus" in text:
                only_cpp = depth
        elif _END.match(text):
            if depth == only_cpp:
                only_cpp = 0
            depth -= 1
        elif not only_cpp and not _DEFINE.match(text):
            lines.append(text)
    return lines
