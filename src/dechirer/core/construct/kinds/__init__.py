"""One file per construction: what the maker decides about it, its builder, its own checks."""
