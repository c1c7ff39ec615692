"""Pixels in and out."""
