"""One file for each thing that is judged."""
