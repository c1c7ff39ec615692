"""Verdicts and notes in a tutor's words, one file a kind. Every sentence rests on a core reason, nothing else."""
