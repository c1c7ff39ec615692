"""What is kept: people, pictures and sheets in a database, picture files beside it."""
