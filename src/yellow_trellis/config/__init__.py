"""The configuration: which rules, over which paths, at which levels, and where that is said."""

from yellow_trellis.lazy import face

TYPE_CHECKING = False
if TYPE_CHECKING:
    from yellow_trellis.config.settings import ConfigError, Part, Settings, settings_for

_HOMES = {"settings": ("ConfigError", "Part", "Settings", "settings_for")}

__getattr__ = face(__name__, globals(), _HOMES)

__all__ = ["ConfigError", "Part", "Settings", "settings_for"]
