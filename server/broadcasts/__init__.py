"""Broadcasts: one letter, at one time, to exactly those who may get it."""
