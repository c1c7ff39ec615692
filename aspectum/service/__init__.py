"""One module per thing a person does; joins core, pictures and store."""
