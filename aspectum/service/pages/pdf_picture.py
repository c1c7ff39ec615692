"""The first page of a PDF as a picture."""

from __future__ import annotations

import io
import threading

rendering = threading.Lock()  # the renderer takes one page at a time
POINTS = 72


def picture_of_page(data: bytes, dpi: float | None = None, size: tuple[int, int] | None = None) -> bytes:
    """The first page as PNG, ``dpi`` pixels an inch or of a given ``size``."""
    import pypdfium2

    with rendering:
        document = pypdfium2.PdfDocument(data)
        try:
            page = document[0]
            scale = (dpi or POINTS) / POINTS if size is None else size[0] / page.get_width()
            image = page.render(scale=scale).to_pil()
        finally:
            document.close()
    if size is not None and image.size != size:
        image = image.resize(size)
    out = io.BytesIO()
    image.save(out, "PNG", optimize=size is None)
    return out.getvalue()
