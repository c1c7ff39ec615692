"""The rules of the job, on numpy alone: no I/O, no clock, no random state."""
