"""Stand-ins for machines, so that a job can be tried before paper is spent: a printer, and a reader of marks."""
