"""Bays and their devices as they are told."""

from __future__ import annotations

from finearc.api import models as m
from finearc.devices.link.bay import Bay
from finearc.devices.link.device import DeviceState, StreamState
from finearc.services.capture.bays import BayRead
from finearc.services.records import BayToken


def bay_out(read: BayRead, live: Bay | None) -> m.BayOut:
    """``live``: what the process that hears the devices knows; None where none has come."""
    return m.BayOut(
        name=read.name,
        state=str(live.state["state"]) if live else "idle",
        trouble=live.trouble if live else "",
        tokens=[token_out(t) for t in read.tokens],
        devices=[device_out(d, live.clock.now_us()) for d in live.known_devices()] if live else [],
    )


def token_out(token: BayToken) -> m.BayTokenOut:
    return m.BayTokenOut(id=token.id, name=token.name, made_at=token.made_at, used_at=token.used_at)


def device_out(device: DeviceState, now_us: int) -> m.DeviceOut:
    health, line = device.health, device.clock.line
    return m.DeviceOut(
        id=device.id,
        name=device.name,
        model=device.hello.device.model,
        connected=device.outlet is not None,
        seen_s=max(0.0, (now_us - device.seen_us) / 1e6),
        battery=health.battery if health else None,
        charging=health.charging if health else None,
        signal_dbm=health.rssi_dbm if health else None,
        errors=list(health.errors) if health else [],
        clock_ms=1000.0 * line.sd_s if line else None,
        streams=[_stream_out(s, now_us, connected=device.outlet is not None) for s in device.streams.values()],
    )


def _stream_out(stream: StreamState, now_us: int, *, connected: bool) -> m.StreamOut:
    return m.StreamOut(
        measures=str(stream.declared.place),
        kind=stream.declared.kind,
        declared_hz=stream.declared.rate_hz,
        rate_hz=stream.pace.rate_hz(now_us) if connected else 0.0,
        lost=stream.lost,
    )
