"""Settings: ``base`` for all, ``production`` safe by default, ``demo`` for ./start, ``test`` for ./test."""
