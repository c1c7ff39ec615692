"""Aspectum: judge, sight, check and note what observational drawing needs to see."""
