"""Pages to be printed: their ink, their marks and what stands in the waste, as PDF at true size."""
