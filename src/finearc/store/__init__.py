"""MariaDB through SQLAlchemy: implements the services' ports."""
