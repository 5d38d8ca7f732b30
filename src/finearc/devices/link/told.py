"""A bay's devices as they are told to screens: plain values that also go from one process to another."""

from __future__ import annotations

from typing import Any

from finearc.devices.link.bay import Bay
from finearc.devices.link.device import DeviceState, StreamState


def told_of(bay: Bay) -> dict[str, Any]:
    """State, trouble and devices."""
    now_us = bay.clock.now_us()
    return {
        "state": str(bay.state["state"]),
        "trouble": bay.trouble,
        "devices": [_device(d, now_us) for d in bay.known_devices()],
    }


def _device(device: DeviceState, now_us: int) -> dict[str, Any]:
    health, line = device.health, device.clock.line
    return {
        "id": device.id,
        "name": device.name,
        "model": device.hello.device.model,
        "connected": device.outlet is not None,
        "seen_s": max(0.0, (now_us - device.seen_us) / 1e6),
        "battery": health.battery if health else None,
        "charging": health.charging if health else None,
        "signal_dbm": health.rssi_dbm if health else None,
        "errors": list(health.errors) if health else [],
        "clock_ms": 1000.0 * line.sd_s if line else None,
        "streams": [_stream(s, now_us, connected=device.outlet is not None) for s in device.streams.values()],
    }


def _stream(stream: StreamState, now_us: int, *, connected: bool) -> dict[str, Any]:
    return {
        "measures": str(stream.declared.place),
        "kind": stream.declared.kind,
        "declared_hz": stream.declared.rate_hz,
        "rate_hz": stream.pace.rate_hz(now_us) if connected else 0.0,
        "lost": stream.lost,
    }
