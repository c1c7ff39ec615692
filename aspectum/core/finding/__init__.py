"""One camera behind a picture's straight lines and round rims: what is proposed before anybody has sighted it."""
