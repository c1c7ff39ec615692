"""Everything that is printed."""
