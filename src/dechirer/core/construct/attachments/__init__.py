"""One file per thing glued on or in: what the maker decides about it, how it is put on, its own checks."""
