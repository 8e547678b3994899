"""Lay: which piece goes where on which sheet, and how each sheet is loaded."""
