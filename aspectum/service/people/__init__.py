"""Who is who: signing in, what is whose, and who may do what."""
