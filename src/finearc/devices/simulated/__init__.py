"""Stand-ins for real devices: processes of their own that speak the device link over the network like hardware."""
