"""Readings taken from life, at the easel: a stick, a gauge and a thumb, and no photo."""
