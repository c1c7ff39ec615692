"""Worksheets: exercises on paper with what is given, what is asked, and the exact answer, in millimetres."""
