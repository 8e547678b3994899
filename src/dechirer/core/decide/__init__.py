"""How a decision is declared: its fields with title and bounds, how they are typed, shown, changed and refused."""
