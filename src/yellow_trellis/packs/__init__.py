"""Rules that come with the library; none is on unless it is named."""
