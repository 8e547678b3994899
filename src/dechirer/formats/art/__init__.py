"""Reading art from files of strangers: SVG, DXF, pictures. Each reader gives the groups of an `Art` in mm."""
