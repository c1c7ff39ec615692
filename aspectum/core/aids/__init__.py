"""What is shown and never judges."""
