"""Open formats; the pydantic models here are the one definition of each."""
