"""The ``larder`` command: a thin skin over the core, the only place where it meets files and streams."""
