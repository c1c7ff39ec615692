"""The solved form: its corners, its true proportions, its faces and the heights about it."""
