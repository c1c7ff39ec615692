"""The sheet of paper before the first line: where the drawing sits, what lies off the sheet, and in which order it is
laid in.
"""
