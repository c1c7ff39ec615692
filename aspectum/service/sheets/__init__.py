"""Sighting sheets: kept, checked, put into the report, and what a photo shows."""
