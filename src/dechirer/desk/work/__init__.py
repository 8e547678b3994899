"""The work behind the window: the open job, planning, files, settings, export and import."""
