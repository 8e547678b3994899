"""The folded card in three dimensions: the eye, what hides what, and what each part of it looks like."""
