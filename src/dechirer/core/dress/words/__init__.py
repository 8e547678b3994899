"""Words: how they are set and fitted, their typefaces, and wordings that differ from copy to copy."""
