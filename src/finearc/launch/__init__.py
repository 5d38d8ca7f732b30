"""Starting what the application needs: MariaDB on loopback, with its own data folder."""
