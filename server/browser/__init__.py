"""The real interface in Debian's Chromium, against the built frontend and PostgreSQL."""
