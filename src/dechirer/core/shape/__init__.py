"""Outline algebra: points, affine maps and polygons, on shapely where more than arithmetic is needed."""
