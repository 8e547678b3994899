"""One module per picture: each turns a plan into a display list."""
