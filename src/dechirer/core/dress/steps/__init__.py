"""The steps of recipes, grouped by what they do; each is a function from what is drawn to what is drawn then."""
