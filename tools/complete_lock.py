"""Add the optional binaries of other platforms that npm leaves out of the lock file.

``npm ci`` insists on an entry for each of them, although it never installs them here. Run after
``npm install`` has written frontend/package-lock.json.
"""

from __future__ import annotations

import json
from pathlib import Path

LOCK = Path(__file__).parents[1] / "frontend/package-lock.json"
SYSTEMS = (
    "android",
    "darwin",
    "linux",
    "win32",
    "freebsd",
    "netbsd",
    "openbsd",
    "sunos",
    "aix",
    "openharmony",
    "wasm32",
)
PROCESSORS = ("arm64", "x64", "arm", "ia32", "riscv64", "ppc64", "s390x", "loong64", "mips64el", "wasm32")


def platform(name: str) -> dict[str, list[str]]:
    """Where a package of binaries runs, by its name: what fits this machine is installed, and a build for another C
    library is 96 MB for nothing.
    """
    words = name.split("/")[-1].replace("-", " ").split()
    system = [s for s in SYSTEMS if s in words] or ["none"]
    processor = [p for p in PROCESSORS if p in words or f"{p}le" in words or f"{p}gc" in words]
    libc = [called for word, called in (("musl", "musl"), ("gnu", "glibc")) if word in words]
    return {"os": system, "cpu": processor or ["none"]} | ({"libc": libc} if libc else {})


def main() -> None:
    lock = json.loads(LOCK.read_text())
    packages = lock["packages"]
    for entry in list(packages.values()):
        for name, version in entry.get("optionalDependencies", {}).items():
            key = f"node_modules/{name}"
            if version[:1].isdigit() and "integrity" not in packages.get(key, {}):
                of = {"dev": True} if entry.get("dev") else {}
                packages[key] = {"version": version, **platform(name), **of, "optional": True}
    head = {"": packages.pop("")}
    lock["packages"] = head | dict(sorted(packages.items()))
    LOCK.write_text(json.dumps(lock, indent=2) + "\n")


if __name__ == "__main__":
    main()
