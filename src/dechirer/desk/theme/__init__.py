"""How everything looks: colours, type, sizes, drawn once for both themes."""
