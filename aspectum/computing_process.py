"""What a process runs that computes beside the server: all is loaded before the first question rather than
during it.
"""

from __future__ import annotations

import sys
from multiprocessing.connection import Connection

if __name__ == "__main__":
    from aspectum import machine_code
    from aspectum.service.paper import drawings  # noqa: F401
    from aspectum.service.runtime.processes import compute
    from aspectum.service.sheets import checking  # noqa: F401
    from aspectum.service.stand import from_format  # noqa: F401

    machine_code.make_ready(wait_s=0.0)
    compute(Connection(int(sys.argv[1])))
