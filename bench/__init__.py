"""Measurements: run `bin/bench`. Each prints a table with its yardstick measured in the same run."""
