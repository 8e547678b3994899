"""Checks of what is printed: room and sheet, which face, edges, pixels and colours, calibration."""
