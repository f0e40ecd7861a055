"""The demo: Larkmoor Observatory, made through the same actions as live data."""
