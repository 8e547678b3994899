"""Widgets that know nothing of any station."""
