"""Conditions over everybody: the people whom one fits."""
