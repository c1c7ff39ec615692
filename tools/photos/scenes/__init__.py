"""One module per demo photo; each has ``build() -> Scene`` and ``EXPOSURE``."""
