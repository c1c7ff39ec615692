"""Photos held open in grey."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path
from threading import Lock

import numpy as np
from PIL import Image

from aspectum.pictures.pointing import Grey


class Greys:
    """The photos that fingers point at, in grey and whole: the last few, as opening one takes longer than finding an
    edge in it.
    """

    def __init__(self, most: int = 2) -> None:
        self.most = most
        self.held: OrderedDict[str, Grey] = OrderedDict()
        self.lock = Lock()

    def of(self, path: Path) -> Grey:
        """The tones (h, w) of a kept photo, a JPEG named by its bytes."""
        with self.lock:
            grey = self.held.pop(path.name, None)
            if grey is None:
                with Image.open(path, formats=("JPEG",)) as image:
                    image.draft("L", None)
                    grey = np.asarray(image.convert("L"))
            self.held[path.name] = grey
            while len(self.held) > self.most:
                self.held.popitem(last=False)
            return grey
