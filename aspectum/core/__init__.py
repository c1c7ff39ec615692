"""The rules of the job, on numpy and scipy alone: no I/O, no clock, no random state."""
