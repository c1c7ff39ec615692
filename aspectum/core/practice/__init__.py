"""Practice and its record: what a reading says of which skill (handbook section 8)."""
