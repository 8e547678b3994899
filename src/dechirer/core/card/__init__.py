"""What any card is: panels joined at hinges, pieces with their lines, folding, what lies on what and what it hides."""
