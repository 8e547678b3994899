"""The job: what the maker decided, and nothing else. Everything shown beside it is derived by `plan`."""
