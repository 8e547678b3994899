"""Drawings in three parts: what to draw (display lists), how (line forms, roles), and thin sinks elsewhere.

Nothing here knows Qt or PDF: `desk.painter` and `formats.pdf_sink` replay the same lists.
"""
