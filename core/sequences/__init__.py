"""Sequences: the document, its pre-flight, and how a run goes on."""
