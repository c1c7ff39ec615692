"""The student's drawing: paired with its subject, compared, and its errors traced to their few causes (handbook section
6).
"""
