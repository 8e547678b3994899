"""Envelopes: one file per style, the envelope itself, and the bought one."""
