"""Drawings on paper: brought in, laid, judged, and planned."""
