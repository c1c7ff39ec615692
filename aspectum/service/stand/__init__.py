"""The model stand: set-ups kept, drawn exactly and built up."""
