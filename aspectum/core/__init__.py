"""The rules of the job, on numpy and its compiler alone: no I/O, no clock, no random state."""
