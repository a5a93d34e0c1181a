"""PHP: its declaration."""

from yellow_trellis.languages.php.declaration import LANGUAGE as LANGUAGE
