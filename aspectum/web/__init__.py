"""The Flask application: thin routes over the services."""
