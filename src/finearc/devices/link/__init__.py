"""The device link: how a sensor, a mat, a camera rig or a phone sends to Fine Arc, version 1 (``docs/device-link.md``).

``frames`` and ``messages`` are what goes over the wire, ``declared`` what a device says of its streams, ``session`` one
device's connection without input or output of its own, ``journal`` what makes an acknowledgement true, ``bay`` the
devices of one bay together."""
