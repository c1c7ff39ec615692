"""The demo course: an evening drawing class at an invented harbour."""
