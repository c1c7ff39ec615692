"""Where this machine is reached from others in its network."""

from __future__ import annotations

import socket
from ipaddress import IPv4Address

import ifaddr

# of an address set aside for documents (RFC 5737): asked only which way it would be gone, nothing is sent
ELSEWHERE = ("192.0.2.1", 9)


def own_addresses() -> list[str]:
    """The IPv4 addresses of this machine in its networks, the one by which it reaches others first; none where it is in
    no network.
    """
    found = [IPv4Address(ip.ip) for adapter in ifaddr.get_adapters() for ip in adapter.ips if isinstance(ip.ip, str)]
    told = list(dict.fromkeys(str(ip) for ip in found if not (ip.is_loopback or ip.is_link_local or ip.is_unspecified)))
    first = outward_address()
    return sorted(told, key=lambda ip: ip != first)


def outward_address() -> str | None:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(ELSEWHERE)
        except OSError:
            return None
        address: str = probe.getsockname()[0]
        return address


def own_names() -> list[str]:
    """What this machine calls itself in its network."""
    name = socket.gethostname().lower()
    return [name] if name.endswith(".local") else [name, f"{name}.local"]
