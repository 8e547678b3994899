"""Scans of calibration pages: opened, found on the glass, and measured."""
