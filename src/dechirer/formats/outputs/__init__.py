"""One file per output; export walks them."""
