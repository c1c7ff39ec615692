"""A class: its people, what is set, handed in and given back, its worksheets, and questions for the room."""
