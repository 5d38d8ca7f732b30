"""Backup and restore: the database and what waits beside it, as rows cut into pieces that are kept once each.

``folder`` what a backup folder holds, ``sealing`` how a piece is packed and named, ``cutting`` where pieces begin,
``backup`` making one, ``restore`` making a data folder of one, ``erased`` who must not come back, ``trial`` whether
what was restored is what was kept."""
