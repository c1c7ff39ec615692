"""Render a demo photo and write it with its known truth beside it.

pip install -r tools/photos/requirements.txt
python tools/photos/render.py crates [--samples 48] [--out aspectum/demo/photos] [--check FILE]
"""

from __future__ import annotations

import argparse
import importlib
import io
import json
import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

import scenery
from PIL import Image, ImageDraw

LIMIT_BYTES = 400_000


def jpeg(image: Image.Image, focal_35mm: float) -> bytes:
    exif = Image.Exif()
    exif[0x010F] = "Aspectum demo"
    exif.get_ifd(0x8769)[0xA405] = round(focal_35mm)
    for quality in range(88, 60, -3):
        buffer = io.BytesIO()
        image.save(buffer, "JPEG", quality=quality, exif=exif, optimize=True, progressive=True)
        if buffer.tell() < LIMIT_BYTES:
            return buffer.getvalue()
    raise SystemExit("the picture does not fit into 400 KB")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("name")
    parser.add_argument("--samples", type=int, default=36)
    parser.add_argument("--out", type=Path, default=Path(__file__).parents[2] / "aspectum/demo/photos")
    parser.add_argument("--truth-only", action="store_true", help="leave the picture as it is")
    parser.add_argument("--check", type=Path, help="also write the picture with the truth drawn over it")
    args = parser.parse_args()
    module = importlib.import_module(f"scenes.{args.name}")
    scene = module.build()
    loaded = scene.load(args.samples)
    truth = scene.truth(loaded)
    args.out.mkdir(parents=True, exist_ok=True)
    (args.out / f"{args.name}.truth.json").write_text(json.dumps(truth, indent=1) + os.linesep)
    if args.truth_only:
        return
    image = scenery.photograph(scene, loaded, seed=5, exposure=module.EXPOSURE)
    (args.out / f"{args.name}.jpg").write_bytes(jpeg(image, scene.camera.focal_35mm))
    strays = [e["cast_px"] for e in truth["edges"] + truth.get("rims", []) if e["cast_px"] is not None]
    print(
        f"{args.name}: {len(truth['edges'])} edges, {len(truth.get('rims', []))} rims; rays cast across them break within {max(strays):.2f} px (largest)"
    )
    if args.check:
        draw = ImageDraw.Draw(image)
        for edge in truth["edges"]:
            if edge["seen"] >= 0.8:
                draw.line([tuple(edge["p"]), tuple(edge["q"])], fill=(255, 0, 0))
        for rim in truth.get("rims", []):
            for (x, y), shown in zip(rim["points"], rim["seen"], strict=True):
                draw.ellipse([x - 1, y - 1, x + 1, y + 1], fill=(255, 0, 0) if shown else (255, 200, 0))
        level = truth["eye_level"]
        draw.line([(0, level["left_y_px"]), (image.width, level["right_y_px"])], fill=(0, 255, 255))
        image.save(args.check)


if __name__ == "__main__":
    main()
