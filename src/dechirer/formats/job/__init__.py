"""The job file: its archive, the journal of unsaved work, and writing so that a crash leaves the old file whole."""
