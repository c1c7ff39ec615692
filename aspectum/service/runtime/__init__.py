"""What a server works with: where it computes, whose turn it is, what was tried, and documents that are saved by
revision.
"""
