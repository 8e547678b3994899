"""Panels of fields, built from the decisions they show."""
