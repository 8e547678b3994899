"""Reading and writing files: mats as SVG, lists, the run sheet, plan figures, and the job archive."""
