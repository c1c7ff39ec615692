"""The model stand: set-ups whose every edge and rim is known exactly, and how they are seen.

Its forward camera shares nothing with the solver in ``view``: each keeps the other honest.
"""
