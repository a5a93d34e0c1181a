"""The configuration: which rules, over which paths, at which levels, and where that is said."""

from yellow_trellis.config.settings import ConfigError, Part, Settings, settings_for

__all__ = ["ConfigError", "Part", "Settings", "settings_for"]
