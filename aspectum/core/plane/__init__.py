"""Geometry of the sheet: lines, ellipses, and the rims fitted to points."""
