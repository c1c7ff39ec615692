"""Questions, timed drawings, and the logbook of what came of them."""
